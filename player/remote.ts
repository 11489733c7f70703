import { proxy, type Remote } from 'comlink';
import type { PhoneApi } from '../core/phone/api.ts';

/** The engine in a worker, as the player asks it: what is called back must be made to cross over. */
export function remoteApi(engine: Remote<PhoneApi>): PhoneApi {
  return {
    show: (view, screen, record, take, opening) => engine.show(view, screen, record, proxy(take), opening),
    leave: (view) => engine.leave(view),
    look: (view, key, change) => engine.look(view, key, change),
    tapped: (view, key, property, knows) => engine.tapped(view, key, property, knows),
    answered: (id, answer) => engine.answered(id, answer),
    moved: (view, key, before) => engine.moved(view, key, before),
    typed: (variable, cell) => engine.typed(variable, cell),
    saveForm: (table, record, values, isPart) => engine.saveForm(table, record, values, isPart),
    choices: (table, search) => engine.choices(table, search),
    keepFile: (content, name) => engine.keepFile(content, name),
    file: (address) => engine.file(address),
    titles: (table, ids) => engine.titles(table, ids),
    person: () => engine.person(),
    beUsedBy: (person, record) => engine.beUsedBy(person, record),
  };
}
