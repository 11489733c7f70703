import { Command } from 'cmdk';
import { CircleHelp, CirclePlus, CornerDownLeft } from 'lucide-react';
import { useState } from 'react';
import type { Branch } from '../../core/app/steps.ts';
import { ElementMaker } from '../../core/app/make.ts';
import type { Routine, Step, StepKind } from '../../core/app/schema.ts';
import { PURPOSES } from '../../kinds/steps/index.ts';
import { stepKinds } from '../../core/routines/kinds.ts';
import { runsOnlyOnHost } from '../../core/runs/starting.ts';
import { STEP_WORDS } from '../../kinds/steps/search-words.ts';
import { groupClass, itemClass } from '../chips/ChoiceChip.tsx';
import { searchOf } from '../find/search.ts';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';
import { Popover } from '../ui/popover.tsx';
import { understood } from './typed/understood.ts';

/**
 * Adds steps: what should happen is typed, and what was understood is shown before it is taken; or a step is chosen from
 * the list by purpose.
 */
export function AddStep({
  routine,
  only,
  branch,
  add,
}: {
  routine: Routine;
  /** The one kind that may be added here. */
  only: StepKind | undefined;
  /** Where it is added. */
  branch: Branch;
  add(steps: Step[]): void;
}) {
  const button = (words: string) => (
    <button
      type="button"
      className="flex h-8 items-center gap-2 rounded-control px-1.5 text-ink-soft hover:bg-sunk/70 hover:text-ink"
      {...(only && { onClick: () => add([new ElementMaker().step(only)]) })}
    >
      <CirclePlus size={15} aria-hidden /> {words}
    </button>
  );
  if (only) return button(`Add “${stepKinds.get(only)!.said.name}”`);
  return (
    <Popover width={440} trigger={button(branch ? 'Add a step here' : 'Add a step')}>
      {(close) => (
        <Choices
          routine={routine}
          branch={branch}
          take={(steps) => {
            add(steps);
            close();
          }}
        />
      )}
    </Popover>
  );
}

const OFFERED = PURPOSES.flatMap(([, kinds]) =>
  kinds.map((kind) => {
    const { name, hint } = stepKinds.get(kind)!.said;
    return { kind: kind as StepKind, name, hint, words: STEP_WORDS[kind as StepKind] };
  }),
);
const search = searchOf(OFFERED);

function Choices({ routine, branch, take }: { routine: Routine; branch: Branch; take(steps: Step[]): void }) {
  const app = useApp();
  const model = useModel();
  const [text, setText] = useState('');
  const typed = text.trim();
  // A sentence of many words is looked for by its first ones, which say what is done.
  const words = typed.split(/\s+/);
  const some = typed ? search(words.slice(0, 3).join(' ')) : [];
  // Where it runs on the server alone, there is no phone to do anything on.
  const isOfServer = runsOnlyOnHost(app, routine.id);
  const needsPhone = (steps: readonly Step[]): boolean => steps.some((s) => stepKinds.get(s.do)!.only === 'phone');
  const meant = understood(text, app, model, routine, new ElementMaker(), branch).filter(
    (m) => !isOfServer || !needsPhone(m.steps),
  );
  const isOffered = ({ kind }: (typeof OFFERED)[number]): boolean =>
    !isOfServer || stepKinds.get(kind)!.only !== 'phone';
  const found = (some.length || !typed ? some : search(words[0]!)).map((f) => f.it).filter(isOffered);
  const groups: [string, typeof OFFERED][] = typed
    ? found.length
      ? [[meant.length ? 'Or choose a step' : 'Steps', found.slice(0, 12)]]
      : []
    : PURPOSES.map(([name, kinds]) => [name, OFFERED.filter((o) => kinds.includes(o.kind) && isOffered(o))]);
  return (
    <Command className="p-1.5" loop shouldFilter={false}>
      <Command.Input
        autoFocus
        value={text}
        onValueChange={setText}
        placeholder="Type what should happen: mail keeper thank you"
        aria-label="What should happen"
        className="field mb-1"
      />
      <Command.List className="thin-scroll max-h-80 overflow-auto">
        {meant.length > 0 && (
          <Command.Group heading="Understood as" className={groupClass}>
            {meant.map((m, i) => (
              <Command.Item key={i} value={`meant ${i}`} onSelect={() => take(m.steps)} className={itemClass}>
                <CornerDownLeft size={14} className="shrink-0 text-kelp" aria-hidden />
                <span className="min-w-0 flex-1 py-1 leading-snug">
                  {m.parts.length > 1 ? (
                    <ol className="list-decimal pl-4">
                      {m.parts.map((part, k) => (
                        <li key={k}>{part}</li>
                      ))}
                    </ol>
                  ) : (
                    m.said
                  )}
                  {m.left && (
                    <span className="mt-0.5 block text-xs text-persimmon-deep">
                      Not understood, and left out: <mark className="bg-saffron-wash text-ink">{m.left}</mark>
                    </span>
                  )}
                </span>
              </Command.Item>
            ))}
          </Command.Group>
        )}
        {typed.includes(' ') && meant.length === 0 && (
          <p className="flex items-start gap-2 px-2 py-2 text-ink-soft">
            <CircleHelp size={15} className="mt-0.5 shrink-0" aria-hidden />
            <span>
              This sentence is not understood whole. Say it as one of these: “set status to done”, “mail keeper thank
              you”, “if weight is over 20, go back”.
            </span>
          </p>
        )}
        {groups.map(([name, offered]) => (
          <Command.Group key={name} heading={name} className={groupClass}>
            {offered.map((o) => (
              <Command.Item
                key={o.kind}
                value={`kind ${o.kind}`}
                onSelect={() => take([new ElementMaker().step(o.kind)])}
                className={itemClass}
              >
                <span className="min-w-0 flex-1 truncate">{o.name}</span>
                <span className="max-w-56 truncate text-xs text-ink-faint">{o.hint}</span>
              </Command.Item>
            ))}
          </Command.Group>
        ))}
        {meant.length + groups.length === 0 && !typed.includes(' ') && (
          <p className="px-2 py-3 text-ink-faint">
            Nothing is called “{typed}”. Begin with what is done: mail, add, open …
          </p>
        )}
      </Command.List>
    </Command>
  );
}
