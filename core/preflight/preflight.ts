import { thisId } from '../app/ids.ts';
import { fieldOf, routineOf, screenOf, tableOf, walkElements, walkSteps } from '../app/names.ts';
import { KIND_WORDS } from '../app/uses.ts';
import type { App, Element, FormElement, ListElement, Routine, Screen, Step, Tap, Where } from '../app/schema.ts';
import type { Problem } from '../formula/ast.ts';
import { compile } from '../formula/compile.ts';
import { compileWhere, isUnary } from '../records/conditions.ts';
import { Model, type Thing } from '../records/model.ts';
import { compileTemplate } from '../records/template.ts';
import { thingsInRoutine } from '../routines/run.ts';
import { thingsGiven } from '../screens/draw.ts';

/** Something to look at before release. */
export interface Note {
  /** `stops` would fail for everybody and keeps the app from being released; `look` is worth a look. */
  severity: 'stops' | 'look';
  said: string;
  workspace: 'data' | 'screens' | 'logic';
  table?: string;
  field?: string;
  screen?: string;
  element?: string;
  routine?: string;
}

/** Looks an app over without running it: what is unfinished, broken or unreachable, each with its place. */
export function preflight(app: App): Note[] {
  const model = new Model(app);
  return [...tableNotes(app, model), ...screenNotes(app, model), ...routineNotes(app, model)];
}

/** Would any note keep the app from being released? */
export const stops = (notes: readonly Note[]): boolean => notes.some((n) => n.severity === 'stops');

function tableNotes(app: App, model: Model): Note[] {
  return app.tables.flatMap((t) =>
    t.fields.flatMap((f): Note[] => {
      const at = { workspace: 'data' as const, table: t.id, field: f.id };
      const broken = [
        ['what it begins with', f.default],
        ['its check', f.check?.formula],
      ].flatMap(([what, formula]): Note[] => {
        const wrong = formula && model.formulaOf(t.id, formula).problems.find((p) => p.severity === 'error');
        return wrong ? [{ ...at, severity: 'stops', said: `${f.name} of ${t.name}, ${what}: ${wrong.message}` }] : [];
      });
      if (broken.length) return broken;
      if (f.type === 'plan' && !f.plan)
        return [{ ...at, severity: 'look', said: `${f.name} of ${t.name} has no plan to put places on yet.` }];
      if (f.type === 'formula') {
        if (!f.formula?.trim())
          return [{ ...at, severity: 'look', said: `${f.name} of ${t.name} has no formula yet.` }];
        return model
          .formula(t.id, f)
          .problems.slice(0, 1)
          .map((p) => ({
            ...at,
            severity: p.severity === 'error' ? 'stops' : 'look',
            said: `${f.name} of ${t.name}: ${p.message}`,
          }));
      }
      if (f.link && !tableOf(app, f.link.table))
        return [{ ...at, severity: 'stops', said: `${f.name} of ${t.name} leads to a table that is gone.` }];
      if (
        f.link?.kind === 'matched' &&
        !(fieldOf(t, f.link.from ?? '') && fieldOf(tableOf(app, f.link.table), f.link.to ?? ''))
      ) {
        return [{ ...at, severity: 'stops', said: `${f.name} of ${t.name} matches by a field that is not chosen.` }];
      }
      return [];
    }),
  );
}

class ScreenCheck {
  readonly notes: Note[] = [];
  constructor(
    private readonly app: App,
    private readonly model: Model,
    private readonly screen: Screen,
  ) {}

  private add(e: Element, severity: Note['severity'], said: string): void {
    const name = e.name ?? KIND_WORDS[e.kind];
    this.notes.push({
      severity,
      said: `${name} on ${this.screen.name}: ${said}`,
      workspace: 'screens',
      screen: this.screen.id,
      element: e.id,
    });
  }

  private problems(e: Element, problems: readonly Problem[]): void {
    const worst = problems.find((p) => p.severity === 'error') ?? problems[0];
    if (worst) this.add(e, worst.severity === 'error' ? 'stops' : 'look', worst.message);
  }

  private formula(e: Element, text: string | undefined, things: Thing[], self: string | null = null): void {
    if (text) this.problems(e, compile(text, this.model.optionsFor(self, things)).problems);
  }

  private words(e: Element, text: string, things: Thing[]): void {
    this.problems(e, compileTemplate(this.model, text, this.model.optionsFor(null, things)).problems);
  }

  private tap(e: Element, tap: Tap | undefined, things: Thing[], inForm: boolean): void {
    if (!tap) return;
    if (tap.do === 'save' && !inForm) this.add(e, 'stops', 'it saves a form, and stands in none.');
    if (tap.do === 'routine' && !routineOf(this.app, tap.routine))
      this.add(e, 'stops', 'a tap runs a routine that is not chosen.');
    if (tap.do !== 'open') return;
    const target = screenOf(this.app, tap.screen);
    if (!target) this.add(e, 'stops', 'a tap opens a screen that is not chosen.');
    else if (target.given && !target.optional && !tap.give)
      this.add(e, 'stops', `a tap opens ${target.name}, which needs a record, and gives none.`);
    else this.formula(e, tap.give, things);
  }

  element(e: Element, things: Thing[], form: FormElement | null): void {
    if (e.seenWhen === '')
      this.add(e, 'look', 'the formula for when it is seen is not written yet, so it is never seen.');
    this.formula(e, e.seenWhen, things);
    switch (e.kind) {
      case 'text':
        this.words(e, e.words, things);
        break;
      case 'picture':
        if (!e.source) this.add(e, 'look', 'no picture is chosen.');
        this.formula(e, e.source, things);
        break;
      case 'button':
        this.words(e, e.words, things);
        if (e.tap.do === 'nothing') this.add(e, 'look', 'a tap does nothing yet.');
        this.tap(e, e.tap, things, form !== null);
        break;
      case 'reading':
        if (!e.value) this.add(e, 'look', 'its value is not chosen.');
        this.formula(e, e.value, things);
        break;
      case 'input': {
        const field = fieldOf(tableOf(this.app, form?.table ?? ''), e.field);
        if (!form) this.add(e, 'stops', 'an input works inside a form.');
        else if (!field) this.add(e, 'stops', 'its field is not chosen.');
        break;
      }
      case 'box':
        this.tap(e, e.tap, things, form !== null);
        for (const c of e.children) this.element(c, things, form);
        break;
      case 'form':
        if (!tableOf(this.app, e.table)) this.add(e, 'stops', 'its table is not chosen.');
        this.formula(e, e.record, things);
        for (const c of e.children) this.element(c, things, e);
        break;
      case 'list':
        this.list(e, things);
        break;
    }
  }

  private list(e: ListElement, things: Thing[]): void {
    const table = tableOf(this.app, e.query.table);
    if (!table) {
      this.add(e, 'stops', 'its table is not chosen.');
      return;
    }
    if (!e.empty.trim()) this.add(e, 'look', 'the words for an empty list are missing.');
    if (e.children.length === 0) this.add(e, 'look', 'its rows show nothing yet.');
    this.formula(e, e.query.via, things);
    this.problems(
      e,
      unfinished(e.query.where)
        ? [{ message: 'a condition is not filled in yet, so it is left out.', severity: 'warning', from: 0, to: 0 }]
        : compileWhere(e.query.where, this.model.optionsFor(table.id, things)).problems,
    );
    for (const o of e.query.order) this.formula(e, o.by, things, table.id);
    const row = thingsGiven({ model: this.model }, table.id);
    const inner = [...things.filter((t) => t.id !== thisId(table.id)), ...row];
    this.tap(e, e.tap, inner, false);
    for (const c of e.children) this.element(c, inner, null);
  }
}

const unfinished = (where: Where): boolean => where.conditions.some((c) => !c.left || (!c.right && !isUnary(c.op)));

function screenNotes(app: App, model: Model): Note[] {
  const notes: Note[] = [];
  const reached = new Set(app.tabs.map((t) => t.screen));
  if (app.tabs.length === 0 && app.screens[0]) reached.add(app.screens[0].id);
  for (const s of app.screens)
    walkElements([s.root], (e) => {
      if ('tap' in e && e.tap?.do === 'open') reached.add(e.tap.screen);
    });
  for (const r of app.routines)
    walkSteps(r.steps, (s) => {
      if (s.do === 'open') reached.add(s.screen);
    });
  if (app.screens.length === 0) notes.push({ severity: 'stops', said: 'The app has no screen.', workspace: 'screens' });
  for (const t of app.tabs)
    if (!screenOf(app, t.screen))
      notes.push({ severity: 'stops', said: `The tab ${t.name} opens a screen that is gone.`, workspace: 'screens' });
  for (const s of app.screens) {
    const check = new ScreenCheck(app, model, s);
    check.element(s.root, thingsGiven({ model }, s.given), null);
    notes.push(...check.notes);
    if (!reached.has(s.id))
      notes.push({
        severity: 'look',
        said: `${s.name} cannot be reached: no tab and no tap opens it.`,
        workspace: 'screens',
        screen: s.id,
      });
  }
  return notes;
}

function routineNotes(app: App, model: Model): Note[] {
  const started = new Set<string>();
  for (const s of app.screens)
    walkElements([s.root], (e) => {
      if ('tap' in e && e.tap?.do === 'routine') started.add(e.tap.routine);
    });
  return app.routines.flatMap((r): Note[] => {
    const at = { workspace: 'logic' as const, routine: r.id };
    const notes: Note[] = [];
    if (r.steps.length === 0) notes.push({ ...at, severity: 'look', said: `${r.name} has no steps yet.` });
    if (!started.has(r.id)) notes.push({ ...at, severity: 'look', said: `${r.name} is not started by anything.` });
    const missing = firstGap(app, model, r);
    if (missing) notes.push({ ...at, severity: started.has(r.id) ? 'stops' : 'look', said: `${r.name}: ${missing}` });
    return notes;
  });
}

/** The first place in a routine that is not filled in or does not work out. */
function firstGap(app: App, model: Model, routine: Routine): string | null {
  const options = model.optionsFor(null, thingsInRoutine({ model }, routine));
  const broken = (formula: string): string | null =>
    compile(formula, options).problems.find((p) => p.severity === 'error')?.message ?? null;
  let gap: string | null = null;
  const value = (formula: string, what: string): void => {
    gap ??= formula ? broken(formula) : `${what} is not filled in yet.`;
  };
  const words = (text: string): void => {
    gap ??= compileTemplate(model, text, options).problems.find((p) => p.severity === 'error')?.message ?? null;
  };
  const look = (s: Step): void => {
    switch (s.do) {
      case 'set':
      case 'add':
        if (s.do === 'set') value(s.record, 'the record to set');
        else if (!tableOf(app, s.table)) gap ??= 'the table to add to is not chosen.';
        if (s.values.length === 0) gap ??= 'a step sets no field yet.';
        for (const v of s.values) value(v.value, 'a value');
        break;
      case 'remove':
        value(s.record, 'the record to remove');
        break;
      case 'open': {
        const screen = screenOf(app, s.screen);
        if (!screen) gap ??= 'the screen to open is not chosen.';
        else if (screen.given && !screen.optional) value(s.give, `what ${screen.name} is given`);
        break;
      }
      case 'message':
        if (!s.words.trim()) gap ??= 'a message has no words yet.';
        words(s.words);
        break;
      case 'mail':
        value(s.to, 'the address of a mail');
        words(s.subject);
        words(s.body);
        break;
      case 'if':
        if (unfinished(s.when) || s.when.conditions.length === 0) gap ??= 'a condition is not filled in yet.';
        else gap ??= compileWhere(s.when, options).problems.find((p) => p.severity === 'error')?.message ?? null;
        break;
      case 'back':
        break;
    }
  };
  walkSteps(routine.steps, look);
  return gap;
}
