import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { peopleTable } from '../../core/app/people.ts';
import { givesRole } from '../../core/app/gives-role.ts';
import { ChoiceChip, ChoiceList } from '../chips/ChoiceChip.tsx';
import { useApp, useEngine } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';
import { TextBox } from '../ui/TypedBox.tsx';
import { useRoom } from './room.ts';

/** Chooses whose phone comes into the room: one of the people, somebody not signed in, somebody just invited. */
export function AddPhone({ trigger }: { trigger: ReactNode }) {
  const app = useApp();
  const engine = useEngine();
  const add = useRoom((s) => s.add);
  const here = useRoom((s) => s.state?.phones);
  const table = peopleTable(app);
  const [inviting, setInviting] = useState(false);
  const { data: people = [] } = useQuery({
    queryKey: ['cast', app.id, table?.id],
    queryFn: () => (table ? engine.phone.choices(table.id, '') : []),
    staleTime: 0,
  });
  const signsIn = app.access?.mail !== undefined;
  return (
    <Popover trigger={trigger} width={300} align="end">
      {(close) => (
        <>
          <h2 className="px-3.5 pt-3 pb-1 text-[15px]">Whose phone?</h2>
          {inviting ? (
            <Invite
              leave={() => setInviting(false)}
              invite={(mail, role) => {
                close();
                setInviting(false);
                void add({ is: 'invited', mail, role });
              }}
            />
          ) : (
            <>
              <ChoiceList
                placeholder="Search people"
                choices={[
                  { value: '', label: app.access ? 'Nobody signed in' : 'Nobody in particular' },
                  ...people.map((p) => ({
                    value: p.id,
                    label: p.title,
                    hint: here?.some((h) => h.person === p.id) ? 'here' : '',
                  })),
                ]}
                onChoose={(record) => {
                  close();
                  void add(record ? { is: 'person', record } : { is: 'nobody' });
                }}
              />
              {signsIn && (
                <div className="border-t border-line p-2.5">
                  <Button className="w-full" onClick={() => setInviting(true)}>
                    Somebody who was just invited
                  </Button>
                </div>
              )}
            </>
          )}
        </>
      )}
    </Popover>
  );
}

function Invite({ invite, leave }: { invite(mail: string, role?: string): void; leave(): void }) {
  const app = useApp();
  const [mail, setMail] = useState('new@post.example');
  const [role, setRole] = useState('');
  const roles = (app.access?.roles ?? []).filter((r) => givesRole(app, r));
  return (
    <div className="space-y-2 px-3.5 pb-3">
      <TextBox label="Mail address" value={mail} onChange={setMail} />
      {roles.length > 0 && (
        <p>
          as{' '}
          <ChoiceChip
            name="Role"
            value={role}
            choices={[{ value: '', label: 'no role' }, ...roles.map((r) => ({ value: r.id, label: r.name }))]}
            onChange={setRole}
          />
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={leave}>Leave it</Button>
        <Button look="main" disabled={!mail.includes('@')} onClick={() => invite(mail.trim(), role || undefined)}>
          Add the phone
        </Button>
      </div>
    </div>
  );
}
