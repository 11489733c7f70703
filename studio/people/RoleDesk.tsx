import { Trash2 } from 'lucide-react';
import { useNavigate } from 'react-router';
import { removeRole } from '../../core/app/access-edits.ts';
import type { AppAccess, Role } from '../../core/app/access-schema.ts';
import { freeName } from '../../core/document/names.ts';
import { WhereSentence } from '../chips/WhereSentence.tsx';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { toastWithUndo } from '../state/undo-toast.ts';
import { IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';

/** One role: the people for whom its conditions hold. */
export function RoleDesk({ role }: { role: Role }) {
  const app = useApp();
  const edit = useEdit();
  const home = useHome();
  const navigate = useNavigate();
  const people = app.tables.find((t) => t.id === app.people);
  const change = (label: string, recipe: (r: Role) => void): void =>
    void edit(label, (a) => recipe((a.access as AppAccess).roles.find((r) => r.id === role.id)!));
  const others = app.access!.roles.filter((r) => r.id !== role.id).map((r) => r.name);
  return (
    <>
      <div className="mb-4 flex items-center gap-3">
        <h1 className="min-w-0 flex-1 text-xl">
          <NameField
            label="Name of the role"
            value={role.name}
            onChange={(n) => change(`Renamed the role ${role.name}`, (r) => void (r.name = freeName(n, others)))}
          />
        </h1>
        <IconButton
          icon={Trash2}
          label="Remove this role"
          onClick={() =>
            void edit(`Removed the role ${role.name}`, (a) => removeRole(a, role.id)).then(() => {
              toastWithUndo(`${role.name} is removed, with the rules that were for it alone.`);
              void navigate(`${home}/people/rules`);
            })
          }
        />
      </div>
      <section className="card sentence px-5 py-3.5" aria-label="Who has this role">
        {people ? (
          <WhereSentence
            lead={`${role.name} are ${people.name} where`}
            bare="add a condition"
            where={role.where}
            place={{ self: people.id, things: [] }}
            onChange={(where) => change(`Changed who ${role.name} are`, (r) => void (r.where = where))}
          />
        ) : (
          'Choose the table of people first.'
        )}
        .
      </section>
      <p className="mt-3 max-w-[640px] text-sm text-ink-soft">
        A person has a role as long as this holds for their record. Whoever may change what it says there could give
        themselves the role: preflight finds that.
      </p>
    </>
  );
}
