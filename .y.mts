import './kinds/given/all.ts';
import { helpDeskFile } from './e2e/rehearse-scenes.ts';
const { app } = await helpDeskFile('/tmp');
console.log(app.screens.map(s => s.name).join(', '), '|', app.tabs.map(t => t.name), app.drawer?.ways.map(w=>w.name));
console.log(JSON.stringify(app.access?.rules.filter(r => r.table === app.tables.find(t=>t.name==='Swarm reports')!.id)).slice(0, 1500));
