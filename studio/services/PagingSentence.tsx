import { FILES, type Paging, type ServiceRequest } from '../../core/services/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { TextBox } from '../ui/TypedBox.tsx';
import type { ChangeRequest } from './change-request.ts';

const WAYS: Record<Paging['by'] | 'whole', string> = {
  whole: 'comes as a whole',
  page: 'comes in pages, by their number',
  offset: 'comes in parts, by how many came before',
  mark: 'comes in parts, by a mark in the answer before',
  link: 'comes in pages that its Link header leads to',
  address: 'comes in pages whose address is in the answer',
};

/** Is the whole answer taken as a file? */
const answersFile = (request: ServiceRequest): boolean =>
  request.picks.some((p) => p.path === '$' && FILES.has(p.type));

/** How a long list is asked for. */
export function PagingSentence({ request, change }: { request: ServiceRequest; change: ChangeRequest }) {
  const { paging } = request;
  if (request.method !== 'GET' || answersFile(request)) return null;
  const put = (next: Paging | undefined, merge?: string): void =>
    change(
      `Changed how long lists of ${request.name} come`,
      (r) => {
        if (next) r.paging = next;
        else delete r.paging;
      },
      merge,
    );
  const input = request.inputs.find((i) => i.type === 'number')?.id ?? request.inputs[0]?.id ?? '';
  const begun = (by: Paging['by'] | 'whole'): Paging | undefined => {
    switch (by) {
      case 'whole':
        return undefined;
      case 'page':
        return { by, input, first: 1 };
      case 'offset':
        return { by, input };
      case 'mark':
        return { by, input, at: '$.next' };
      case 'link':
        return { by };
      case 'address':
        return { by, at: "$['@odata.nextLink']" };
    }
  };
  const ways = (Object.keys(WAYS) as (keyof typeof WAYS)[]).filter(
    (by) => request.inputs.length > 0 || by === 'whole' || by === 'link' || by === 'address',
  );
  return (
    <p className="sentence mt-1">
      A long list{' '}
      <ChoiceChip
        name="How a long list comes"
        value={(paging?.by ?? 'whole') as keyof typeof WAYS}
        choices={ways.map((value) => ({ value, label: WAYS[value] }))}
        onChange={(by) => put(begun(by))}
      />
      {paging && 'input' in paging && (
        <>
          {', given to '}
          <ChoiceChip
            name="Input for the page"
            value={request.inputs.some((i) => i.id === paging.input) ? paging.input : null}
            empty="choose an input"
            choices={request.inputs.map((i) => ({ value: i.id, label: i.name }))}
            onChange={(id) => put({ ...paging, input: id })}
          />
        </>
      )}
      {paging?.by === 'page' && (
        <>
          {'; the first is '}
          <ChoiceChip
            name="Number of the first page"
            value={String(paging.first)}
            choices={['1', '0'].map((value) => ({ value, label: value }))}
            onChange={(n) => put({ ...paging, first: Number(n) })}
          />
        </>
      )}
      {paging && 'at' in paging && (
        <>
          {', at '}
          <span className="inline-block w-56 align-middle">
            <TextBox
              label="Where that is in the answer"
              className="font-mono text-sm"
              value={paging.at}
              onChange={(at) => at.trim() && put({ ...paging, at }, 'paging')}
            />
          </span>
        </>
      )}
      .
    </p>
  );
}
