import { newId } from '../../document/ids.ts';
import type { Field, FieldType } from '../../tables/schema.ts';
import { nameOfHost } from '../paste.ts';
import { nameOfPlace, pathOf } from '../picks.ts';
import type { ServiceRequest } from '../schema.ts';
import { described, type DescribedAnswer } from '../openapi/answer.ts';
import type { Need, Operation } from '../openapi/operations.ts';
import type { DescribedRequest } from '../openapi/request.ts';
import { readMetadata, type EdmProperty, type EntitySet, type Metadata } from './metadata.ts';

type Input = ServiceRequest['inputs'][number];
type MakeId = (letter: string) => string;

const VERBS: Record<Exclude<Need, 'other'>, [name: string, method: Operation['method']]> = {
  list: ['List', 'GET'],
  one: ['Get one of', 'GET'],
  add: ['Add to', 'POST'],
  change: ['Change one of', 'PATCH'],
  remove: ['Remove one of', 'DELETE'],
};

/** A service as OData metadata describe it: each entity set can be listed, and its entities read, added, changed, removed. */
export class ODataDescription {
  readonly name: string;
  readonly about = '';
  readonly address: string;
  readonly operations: readonly Operation[];
  readonly leftOut: readonly string[];

  private constructor(
    private readonly metadata: Metadata,
    from: string | undefined,
  ) {
    this.address = from ? from.replace(/\/?\$metadata.*$/, '').replace(/\/$/, '') : '';
    this.name = from ? nameOfHost(new URL(from).hostname) : 'OData service';
    this.operations = metadata.sets.flatMap((set) =>
      (Object.keys(VERBS) as (keyof typeof VERBS)[])
        .filter((need) => set.key.length > 0 || need === 'list' || need === 'add')
        .map((need) => this.operation(set, need)),
    );
    this.leftOut = [
      ...metadata.functions.map((f) => `${f}: a function or action`),
      ...metadata.sets.filter((s) => s.key.length === 0).map((s) => `single entities of ${s.name}: they have no key`),
    ];
  }

  static read(text: string, what: string, from?: string): ODataDescription {
    return new ODataDescription(readMetadata(text, what), from);
  }

  private operation(set: EntitySet, need: keyof typeof VERBS): Operation {
    const [verb, method] = VERBS[need];
    const single = need === 'one' || need === 'change' || need === 'remove';
    const path = `/${set.name}${single ? '/{key}' : ''}`;
    return {
      key: `${method} ${path}`,
      method,
      path,
      name: `${verb} ${nameOfPlace([set.name]).toLowerCase()}`,
      about: '',
      need,
      group: set.name,
      sign: null,
      unsigned: null,
    };
  }

  /** A request made of one of its operations, with what its answers hold. */
  take(operation: Operation, id: MakeId = newId): DescribedRequest & { answer: DescribedAnswer } {
    const set = this.metadata.sets.find((s) => s.name === operation.group)!;
    const inputs: Input[] = [];
    const input = (name: string, type: FieldType, more: Partial<Input> = {}): string => {
      const made: Input = { id: id('v'), name, type, ...more };
      inputs.push(made);
      return made.id;
    };
    const isOne = operation.path.endsWith('/{key}');
    const path = `/${set.name}${isOne ? `(${keyPlaces(set, input, this.metadata.version)})` : ''}`;
    const query: ServiceRequest['query'] = [];
    if (operation.need === 'list') {
      const filter = input('Filter', 'text', { optional: true });
      query.push({ name: '$filter', value: `{${filter}}` });
      const order = input('Order by', 'text', { optional: true });
      query.push({ name: '$orderby', value: `{${order}}` });
    }
    const writes = operation.need === 'add' || operation.need === 'change';
    const body = writes ? bodyOf(set, input) : undefined;
    const list = this.metadata.version === 4 ? "$['value'][*]" : "$['d']['results'][*]";
    const one = this.metadata.version === 4 ? '$' : "$['d']";
    const next = this.metadata.version === 4 ? "$['@odata.nextLink']" : "$['d']['__next']";
    return {
      request: {
        name: operation.name,
        method: operation.method,
        path,
        query,
        headers: [],
        inputs,
        picks: [],
        ...(body && { body: { is: 'json' as const, json: JSON.stringify(body) } }),
        ...(operation.need === 'list' && { paging: { by: 'address' as const, at: next } }),
      },
      leftOut: set.leftOut.map((name) => `${name}: a list or an object`),
      answer:
        operation.need === 'remove'
          ? { holds: 'nothing', at: '$', fields: [], key: '', titleField: null, pictureField: null, leftOut: [] }
          : answerOf(set, operation.need === 'list' ? 'list' : 'one', operation.need === 'list' ? list : one, id),
    };
  }
}

const TYPES: Record<string, FieldType> = {
  Boolean: 'yesno',
  Date: 'date',
  DateTime: 'datetime',
  DateTimeOffset: 'datetime',
  TimeOfDay: 'time',
};
const NUMBERS = /^(Byte|SByte|Int16|Int32|Int64|Decimal|Double|Single)$/;
const typeOf = ({ type }: EdmProperty): FieldType => {
  const name = type.replace(/^Edm\./, '');
  return NUMBERS.test(name) ? 'number' : (TYPES[name] ?? 'text');
};

/** The key as it stands in an address (OData 4.01, URL conventions 4.3): texts in quotes, quotes in them doubled. */
function keyPlaces(set: EntitySet, input: (name: string, type: FieldType) => string, version: 2 | 4): string {
  const one = (p: EdmProperty): string => {
    const place = input(nameOfPlace([p.name]), typeOf(p) === 'number' ? 'number' : 'text');
    if (p.type === 'Edm.Guid') return version === 4 ? `{${place}}` : `guid'{${place}}'`;
    return p.type === 'Edm.String' ? `'{replace(${place}, "'", "''")}'` : `{${place}}`;
  };
  return set.key.length === 1 ? one(set.key[0]!) : set.key.map((p) => `${p.name}=${one(p)}`).join(',');
}

function bodyOf(
  set: EntitySet,
  input: (name: string, type: FieldType, more?: Partial<Input>) => string,
): Record<string, string> {
  const keys = new Set(set.key.map((k) => k.name));
  return Object.fromEntries(
    set.properties
      .filter((p) => !keys.has(p.name))
      .slice(0, 40)
      .map((p) => [p.name, `{${input(nameOfPlace([p.name]), typeOf(p), { optional: true })}}`]),
  );
}

function answerOf(set: EntitySet, holds: 'list' | 'one', at: string, id: MakeId): DescribedAnswer {
  const fields = set.properties.slice(0, 60).map((p): Field => ({
    id: id('f'),
    name: nameOfPlace([p.name]).slice(0, 80),
    type: typeOf(p),
    pick: pathOf([p.name]),
  }));
  const key = fields[set.properties.findIndex((p) => p.name === set.key[0]?.name)] ?? fields[0];
  const title = fields.find((f) => f.type === 'text' && /^(name|title|label|description)$/i.test(f.name));
  return described({ holds, at, fields, leftOut: set.leftOut }, key, title);
}
