import { useState } from 'react';
import { approversOf, canNeedApproval, needApproval } from '../../core/app/approval.ts';
import type { AppAccess } from '../../core/app/access-schema.ts';
import type { App } from '../../core/app/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEdit } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';

const NEW = '';

/** Lets the records of a table need approval by a role, with all that belongs to it. */
export function NeedApproval({ access }: { access: AppAccess }) {
  const app = useApp();
  const edit = useEdit();
  const [table, setTable] = useState<string | null>(null);
  const [role, setRole] = useState(NEW);
  const can = canNeedApproval(app as App);
  const chosen = can.find((t) => t.table.id === table) ?? can[0];
  const by = access.roles.find((r) => r.id === role);
  if (!chosen) return null;
  return (
    <section className="card mt-5 flex items-center gap-4 px-5 py-3.5" aria-label="Approval">
      <p className="sentence min-w-0 flex-1">
        Records of{' '}
        <ChoiceChip
          name="Table that needs approval"
          tone="data"
          value={chosen.table.id}
          choices={can.map((t) => ({ value: t.table.id, label: t.table.name }))}
          onChange={setTable}
        />{' '}
        need approval by{' '}
        <ChoiceChip
          name="Role that approves"
          value={by?.id ?? NEW}
          choices={[...access.roles.map((r) => ({ value: r.id, label: r.name })), { value: NEW, label: 'a new role' }]}
          onChange={setRole}
        />
        . What they have now counts as accepted.
      </p>
      <Button
        onClick={() =>
          void edit(`${chosen.table.name} need approval`, (a) => {
            const draft = a as App;
            const approvers = draft.access!.roles.find((r) => r.id === role) ?? approversOf(draft);
            needApproval(draft, chosen.table.id, chosen.owner.id, approvers);
          })
        }
      >
        Add approval
      </Button>
    </section>
  );
}
