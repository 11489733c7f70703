import { emptyApp } from '../core/app/document.ts';
import { rowFor } from '../core/app/generate-screens.ts';
import { ElementMaker } from '../core/app/make.ts';
import type { MadeApp } from '../core/formats/make-app.ts';
import { seededRandom } from '../core/document/ids.ts';
import type { App } from '../core/app/schema.ts';
import { makeRecords } from './records.ts';
import { addFieldWork } from './field-work.ts';
import { addGame } from './game.ts';
import { addWaysToAsk } from './ways-to-ask.ts';
import { addWaysToLook } from './ways-to-look.ts';
import { addOffice } from './office.ts';
import { addOutside } from './outside.ts';
import { addOwnScreens } from './own-screens.ts';
import { makeScreens } from './screens.ts';
import { addServerWork } from './server-work.ts';
import { addSwarmMail } from './swarm-mail.ts';
import { addStores } from './stores.ts';
import { makeTables, type Names } from './tables.ts';
import { queenPiping } from './sounds.ts';
import { apiaryPicture, hivePicture, honeyRoomPlan, meadowPlan, noticePicture, swarmPicture } from './pictures.ts';

const ALPHABET = 'abcdefghijklmnopqrstuvwxyz0123456789';

/** Heatherfield Bees, a made-up beekeepers' cooperative. The same seed gives the same app; dates end at `today`. */
export function makeDemo(today = new Date(), seed = 1926): MadeApp {
  const random = seededRandom(seed);
  const idsFrom =
    (next: () => number) =>
    (letter: string): string =>
      `${letter}_${Array.from({ length: 10 }, () => ALPHABET[Math.floor(next() * 36)]).join('')}`;
  const id = idsFrom(random);
  const app: App = emptyApp('Heatherfield Bees', id('a'));
  app.about = 'The hives, visits and honey of a beekeepers’ cooperative, at the stand and in the office.';
  // The videos of its guides lie there.
  app.elsewhere = ['guides.heatherfield.example'];
  app.look = { theme: 'straw', accent: null, icon: { letters: 'HB', colour: '#A35A00', picture: null } };
  app.files = makeFiles(id);
  const names: Names = makeTables(app, id);
  makeScreens(app, names, new ElementMaker(id));
  // With ids of their own, so that records stay as they were.
  addOwnScreens(app, names, new ElementMaker(idsFrom(seededRandom(seed + 1))));
  addWaysToLook(app, names, new ElementMaker(idsFrom(seededRandom(seed + 2)), rowFor));
  addWaysToAsk(app, names, new ElementMaker(idsFrom(seededRandom(seed + 3)), rowFor));
  addGame(app, new ElementMaker(idsFrom(seededRandom(seed + 4)), rowFor));
  addOffice(app, names, new ElementMaker(idsFrom(seededRandom(seed + 5)), rowFor));
  addFieldWork(app, names, new ElementMaker(idsFrom(seededRandom(seed + 6)), rowFor));
  addStores(app, names, new ElementMaker(idsFrom(seededRandom(seed + 7)), rowFor));
  addOutside(app, names, new ElementMaker(idsFrom(seededRandom(seed + 8)), rowFor));
  addServerWork(app, names, new ElementMaker(idsFrom(seededRandom(seed + 9)), rowFor));
  addSwarmMail(app, names, new ElementMaker(idsFrom(seededRandom(seed + 10)), rowFor));
  return { app, records: makeRecords(app, names, random, id, today) };
}

function makeFiles(id: (letter: string) => string): App['files'] {
  const hives = [
    hivePicture('#E3B04B', '#7A5A33', '#DCE9EC', '#A9BF7C', 3),
    hivePicture('#8AA26B', '#4E5D3A', '#F2E7CF', '#C7C07A', 2),
    hivePicture('#6F8FA6', '#3F5666', '#E6EEF0', '#96B184', 3),
    hivePicture('#C26B4B', '#6E3520', '#F3E3D6', '#B9B36E', 2),
    hivePicture('#F1E3C4', '#A08658', '#D5E3E0', '#89A878', 4),
    hivePicture('#8C7AA6', '#54456C', '#EFE6EE', '#A7B98A', 3),
  ];
  const apiaries = [
    apiaryPicture('#DCE9EC', '#A9BF7C', '#7F9A5B', '#5E8B4A'),
    apiaryPicture('#F6E3C0', '#C7B46E', '#9C8F4E', '#7C8B3F'),
    apiaryPicture('#E7E3EF', '#9FA9B8', '#7B8B7A', '#4F6B57'),
  ];
  const notices = [noticePicture('jars'), noticePicture('day'), noticePicture('smoker')];
  const file = (name: string, svg: string) => ({ id: id('x'), name, type: 'image/svg+xml', data: btoa(svg) });
  return [
    ...hives.map((s, i) => file(`Hive ${i + 1}`, s)),
    ...apiaries.map((s, i) => file(`Apiary ${i + 1}`, s)),
    file('Swarm', swarmPicture()),
    ...notices.map((s, i) => file(`Notice ${i + 1}`, s)),
    file('Meadow plan', meadowPlan()),
    file('Honey room plan', honeyRoomPlan()),
    { id: id('x'), name: 'Queen piping', type: 'audio/wav', data: btoa(queenPiping()) },
  ];
}
