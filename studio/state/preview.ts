import type { PhoneApi } from '../../core/phone/api.ts';

/**
 * The same engine for a picture of a screen, in which nobody walks or does anything: no routine starts because it is
 * shown, variables keep what they hold, and nothing is kept.
 */
export function previewOf(api: PhoneApi): PhoneApi {
  const refused = (): Promise<never> => Promise.reject(new Error('This is a picture of the screen.'));
  return {
    show: (view, screen, record, take) => api.show(view, screen, record, take),
    leave: (view) => api.leave(view),
    look: (view, key, change) => api.look(view, key, change),
    file: (address) => api.file(address),
    titles: (table, ids) => api.titles(table, ids),
    choices: (table, search) => api.choices(table, search),
    person: () => api.person(),
    again: () => api.again(),
    waits: refused,
    tapped: refused,
    answered: refused,
    moved: refused,
    typed: refused,
    saveForm: refused,
    keepFile: refused,
    beUsedBy: refused,
    cameBack: refused,
  };
}
