import { Command } from 'cmdk';
import { CirclePlus, CornerDownLeft } from 'lucide-react';
import { useState } from 'react';
import type { Branch } from '../../core/app/steps.ts';
import { ElementMaker } from '../../core/app/make.ts';
import type { Routine, Step, StepKind } from '../../core/app/schema.ts';
import { PURPOSES, stepKinds } from '../../kinds/steps/index.ts';
import { groupClass, itemClass } from '../chips/ChoiceChip.tsx';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';
import { Popover } from '../ui/popover.tsx';
import { understood } from './typed.ts';

/**
 * Adds a step: what should happen is typed, and what was understood stands there before it is taken; or it is chosen
 * from the list by purpose.
 */
export function AddStep({
  routine,
  only,
  branch,
  add,
}: {
  routine: Routine;
  /** The one kind that may stand here. */
  only: StepKind | undefined;
  /** Where it is added. */
  branch: Branch;
  add(step: Step): void;
}) {
  const button = (words: string) => (
    <button
      type="button"
      className="flex h-8 items-center gap-2 rounded-control px-1.5 text-ink-soft hover:bg-sunk/70 hover:text-ink"
      {...(only && { onClick: () => add(new ElementMaker().step(only)) })}
    >
      <CirclePlus size={15} aria-hidden /> {words}
    </button>
  );
  if (only) return button(`Add “${stepKinds.get(only)!.said.name}”`);
  return (
    <Popover width={380} trigger={button(branch ? 'Add a step here' : 'Add a step')}>
      {(close) => (
        <Choices
          routine={routine}
          branch={branch}
          take={(step) => {
            add(step);
            close();
          }}
        />
      )}
    </Popover>
  );
}

function Choices({ routine, branch, take }: { routine: Routine; branch: Branch; take(step: Step): void }) {
  const app = useApp();
  const model = useModel();
  const [text, setText] = useState('');
  const meant = understood(text, app, model, routine, new ElementMaker(), branch);
  const wanted = text.trim().toLowerCase();
  const fits = (kind: string): boolean => {
    const { name, hint } = stepKinds.get(kind)!.said;
    return !wanted || `${name} ${hint}`.toLowerCase().includes(wanted);
  };
  const groups = PURPOSES.map(([name, kinds]) => [name, kinds.filter(fits)] as const).filter(([, k]) => k.length);
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
              <Command.Item key={i} value={`meant ${i}`} onSelect={() => take(m.step)} className={itemClass}>
                <CornerDownLeft size={14} className="shrink-0 text-kelp" aria-hidden />
                <span className="min-w-0 flex-1 py-1 leading-snug">{m.said}</span>
              </Command.Item>
            ))}
          </Command.Group>
        )}
        {groups.map(([name, kinds]) => (
          <Command.Group key={name} heading={name} className={groupClass}>
            {kinds.map((kind) => (
              <Command.Item
                key={kind}
                value={`kind ${kind}`}
                onSelect={() => take(new ElementMaker().step(kind as StepKind))}
                className={itemClass}
              >
                <span className="min-w-0 flex-1 truncate">{stepKinds.get(kind)!.said.name}</span>
                <span className="max-w-40 truncate text-xs text-ink-faint">{stepKinds.get(kind)!.said.hint}</span>
              </Command.Item>
            ))}
          </Command.Group>
        ))}
        {meant.length + groups.length === 0 && (
          <p className="px-2 py-3 text-ink-faint">Nothing is called that. Begin with what is done: mail, add, open …</p>
        )}
      </Command.List>
    </Command>
  );
}
