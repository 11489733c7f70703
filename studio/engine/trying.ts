import type { App } from '../../core/app/schema.ts';
import { VARIABLES, VARIABLES_RECORD } from '../../core/document/ids.ts';
import type { Query } from '../../core/document/pieces.ts';
import type { Problem } from '../../core/formula/ast.ts';
import { compile } from '../../core/formula/compile.ts';
import { toStored } from '../../core/formula/stored.ts';
import { typeText } from '../../core/formula/types.ts';
import type { Value } from '../../core/formula/values.ts';
import { display } from '../../core/records/format.ts';
import type { Row } from '../../core/records/row.ts';
import type { Records } from '../../core/records/store.ts';
import { fieldOfPath } from '../../core/records/template.ts';
import { ScreenCompiler } from '../../core/screens/compile.ts';
import { queryFigures, type QueryFigures } from '../../core/screens/query-figures.ts';
import { byWeight, weigh, type Weight } from '../../core/screens/weight.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import type { FormulaPlace } from '../chips/place.ts';

export interface FormulaTrial {
  stored: string;
  type: string;
  problems: Problem[];
  samples: { title: string; value: string }[];
  ms: number;
}

/** What formulas, queries and screens come to with the records that are here, as the desks show it. */
export class Trying {
  constructor(
    private readonly records: Records,
    private readonly app: () => App,
  ) {}

  /** Sample values for the things at hand: the first record of each table. */
  private sampleFrame(place: FormulaPlace, self: Row | null): Value[] {
    return [
      this.records.runtime as unknown as Value,
      self,
      ...place.things.map((t) => (t.type.k === 'record' ? (this.records.rows(t.type.table)[0] ?? null) : null)),
    ];
  }

  /** Compiles shown text where it stands, and works it out for the first records. */
  formula(place: FormulaPlace, shown: string, samples = 3): FormulaTrial {
    const options = this.records.model.optionsFor(place.self, place.things);
    const { stored, compiled } = toStored(shown, options);
    const field = fieldOfPath(this.records.model, compiled.references, shown);
    const started = performance.now();
    const rows = place.self ? this.records.rows(place.self).slice(0, samples) : [null];
    const broken = compiled.problems.some((p) => p.severity === 'error');
    const out = broken
      ? []
      : rows.map((r) => ({ title: r?.title() ?? '', value: display(compiled.run(this.sampleFrame(place, r)), field) }));
    return {
      stored,
      type: typeText(compiled.type),
      problems: compiled.problems,
      samples: out,
      ms: performance.now() - started,
    };
  }

  /** The present value of each formula for a sample record, as chips show them. */
  values(place: FormulaPlace, formulas: string[]): string[] {
    const options = this.records.model.optionsFor(place.self, place.things);
    const self = place.self ? (this.records.rows(place.self)[0] ?? null) : null;
    const frame = this.sampleFrame(place, self);
    return formulas.map((f) => {
      const c = compile(f, options);
      const v = c.run(frame);
      return Array.isArray(v)
        ? `${v.length} ${v.length === 1 ? 'record' : 'records'}`
        : display(v, fieldOfPath(this.records.model, c.references, f));
    });
  }

  /** What each variable holds now, as people read it. */
  variables(): Record<string, string> {
    const row = this.records.row(VARIABLES, VARIABLES_RECORD);
    return Object.fromEntries(
      (this.app().variables ?? []).map((v) => {
        const value = row?.get(v.id) ?? null;
        const said = Array.isArray(value)
          ? `${value.length} ${value.length === 1 ? 'record' : 'records'}`
          : display(value, v);
        return [v.id, said.replace(/^(file|data|kept):.*/, 'a file')];
      }),
    );
  }

  /** How many records a list shows, of how many, and what its conditions left out. */
  query(query: Query, screenId: string, record: string | null): QueryFigures {
    const screen = this.app().screens.find((s) => s.id === screenId);
    return screen ? queryFigures(this.records, screen, query, record) : { shown: 0, of: 0, ms: 0, leftOut: [] };
  }

  /** What drawing each screen takes, the heaviest first; a screen that needs a record is given the first. */
  weights(): Weight[] {
    return byWeight(
      this.app().screens.map((s) =>
        weigh(
          new ScreenCompiler(elementKinds, this.records, this.app()),
          s,
          s.given && !s.optional ? (this.records.rows(s.given)[0]?.id ?? null) : null,
        ),
      ),
    );
  }
}
