import { SlidersHorizontal } from 'lucide-react';
import type { Element } from '../../core/app/schema.ts';
import type { AnyElement } from '../../core/document/meaning.ts';
import type { Size, Stands } from '../../core/document/pieces.ts';
import { Button, IconButton, Line, Note, Segmented } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';
import { NumberBox } from '../ui/TypedBox.tsx';
import { contradictions } from '../../core/app/contradictions.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { useElementEdit } from './useElementEdit.ts';

type Kind = 'fit' | 'fill' | 'fixed' | 'share';
const kindOf = (v: Size | undefined): Kind =>
  typeof v === 'number'
    ? 'fixed'
    : typeof v === 'string' && v.endsWith('%')
      ? 'share'
      : ((v as 'fit' | undefined) ?? 'fill');

/** Width and height of any element, and how it stands among others. Choices that contradict are said, with a mend. */
export function SizeLines({ element }: { element: AnyElement }) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const set = useElementEdit<Element>(element as Element);
  const found = contradictions(app, element.id);
  return (
    <>
      {(['width', 'height'] as const).map((side) => {
        const size = element[side];
        const kind = side === 'height' && size === undefined ? 'fit' : kindOf(size);
        return (
          <Line key={side} label={side === 'width' ? 'Width' : 'Height'}>
            <Segmented
              label={side}
              value={kind}
              options={[
                ['fit', 'Fit'],
                ['fill', 'Fill'],
                ['fixed', 'Fixed'],
                ...(side === 'width' ? [['share', '%'] as const] : []),
              ]}
              onChange={(v) => set(side, v === 'fixed' ? 120 : v === 'share' ? '70%' : v)}
            />
            {(kind === 'fixed' || kind === 'share') && (
              <NumberBox
                label={kind === 'share' ? `${side} in percent` : `${side} in pixels`}
                least={1}
                most={kind === 'share' ? 100 : 2000}
                value={Number.parseFloat(String(size))}
                onChange={(n) => set(side, kind === 'share' ? `${n!}%` : n!)}
                className="!w-16"
              />
            )}
            {side === 'height' && <More element={element} />}
          </Line>
        );
      })}
      {found.map((c) => (
        <div key={c.said} className="mt-2">
          <Note
            action={
              <Button small onClick={() => void edit(c.mend.said, (a) => c.mend.do(a as typeof app))}>
                {c.mend.said}
              </Button>
            }
          >
            {c.said}
          </Note>
        </div>
      ))}
    </>
  );
}

const LENGTHS = [
  ['share', 'Parts of the room it fills', 1, 12],
  ['leastWidth', 'Width at least', 0, 2000],
  ['mostWidth', 'Width at most', 1, 2000],
  ['leastHeight', 'Height at least', 0, 2000],
  ['mostHeight', 'Height at most', 1, 2000],
  ['outer', 'Room around it', 0, 64],
  ['covers', 'Covers what is behind, in %', 10, 99],
] as const satisfies readonly (readonly [keyof Stands, string, number, number])[];

/** What is rarely needed: limits, shares, room around, and how much shows through. */
function More({ element }: { element: AnyElement }) {
  const set = useElementEdit<Element>(element as Element);
  const stands = element.stands ?? {};
  const used = Object.keys(stands).length;
  return (
    <Popover
      width={300}
      align="end"
      trigger={
        <IconButton
          icon={SlidersHorizontal}
          size={14}
          label="Limits, shares and room around it"
          className={used ? 'bg-kelp-wash !text-kelp' : ''}
        />
      }
    >
      {() => (
        <div className="px-3.5 py-2.5">
          {LENGTHS.map(([key, label, least, most]) => (
            <label key={key} className="flex h-8 items-center gap-3 text-sm">
              <span className="min-w-0 flex-1">{label}</span>
              <NumberBox
                label={label}
                least={least}
                most={most}
                optional
                placeholder="–"
                className="!w-20"
                value={stands[key]}
                onChange={(n) => {
                  const { [key]: _before, ...rest } = stands;
                  if (n !== undefined) set('stands', { ...rest, [key]: n });
                  else set('stands', Object.keys(rest).length ? rest : undefined);
                }}
              />
            </label>
          ))}
          <div className="flex h-9 items-center gap-3 text-sm">
            <span className="min-w-0 flex-1">There on</span>
            <Segmented<'any' | 'narrow' | 'wide'>
              label="There on"
              value={stands.seenOn ?? 'any'}
              options={[
                ['any', 'all'],
                ['narrow', 'narrow'],
                ['wide', 'wide'],
              ]}
              onChange={(v) => {
                const { seenOn: _before, ...rest } = stands;
                const next = v === 'any' ? rest : { ...rest, seenOn: v };
                set('stands', Object.keys(next).length ? next : undefined);
              }}
            />
          </div>
        </div>
      )}
    </Popover>
  );
}
