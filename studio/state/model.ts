import type { App } from '../../core/app/schema.ts';
import { Model } from '../../core/records/model.ts';
import { useApp } from './studio.ts';

let last: { tables: App['tables']; routines: App['routines']; model: Model } | null = null;

/** The tables as formulas see them, without records. One for each state of the document. */
export function modelOf(app: App): Model {
  if (last?.tables !== app.tables || last.routines !== app.routines)
    last = { tables: app.tables, routines: app.routines, model: new Model(app) };
  return last.model;
}

export const useModel = (): Model => modelOf(useApp());
