import type { App } from '../../core/app/schema.ts';
import { Model } from '../../core/records/model.ts';
import { useApp } from './studio.ts';

let last: { app: App; model: Model } | null = null;

/** The tables as formulas see them, without records. One for each state of the document. */
export function modelOf(app: App): Model {
  const before = last?.app;
  if (
    before?.tables !== app.tables ||
    before.routines !== app.routines ||
    before.variables !== app.variables ||
    before.services !== app.services
  )
    last = { app, model: new Model(app) };
  return last!.model;
}

export const useModel = (): Model => modelOf(useApp());
