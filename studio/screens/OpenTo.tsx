import type { Screen } from '../../core/app/schema.ts';
import { Chip } from '../chips/Chip.tsx';
import { useApp, useEdit } from '../state/studio.ts';
import { Popover } from '../ui/popover.tsx';
import { Ticks } from '../ui/Ticks.tsx';

/** Who may open a screen, where the app has roles. */
export function OpenTo({ screen }: { screen: Screen }) {
  const app = useApp();
  const edit = useEdit();
  const roles = app.access?.roles ?? [];
  if (roles.length === 0 && !screen.roles) return null;
  const named = roles.filter((r) => screen.roles?.includes(r.id)).map((r) => r.name);
  const change = (on: ReadonlySet<string>): void =>
    void edit(`Changed who may open ${screen.name}`, (a) => {
      const s = a.screens.find((x) => x.id === screen.id)!;
      // Without any role ticked it is open again; one whose roles are gone stays closed.
      if (on.size) s.roles = roles.filter((r) => on.has(r.id)).map((r) => r.id);
      else delete s.roles;
    });
  const said = !screen.roles ? 'whoever may open the app' : named.join(', ') || 'nobody';
  return (
    <p>
      It is open to{' '}
      <Popover width={240} trigger={<Chip aria-label={`Open to: ${said}`}>{said}</Chip>}>
        {() => (
          <>
            <Ticks label="Roles" of={roles.map((r) => [r.id, r.name])} on={new Set(screen.roles)} change={change} />
            <p className="border-t border-line px-4 py-2.5 text-xs text-ink-soft">
              With no role ticked it is open to whoever may open the app. What people see of records is said by the
              rules.
            </p>
          </>
        )}
      </Popover>
      .
    </p>
  );
}
