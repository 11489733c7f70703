import { DoorOpen, Eye, ScrollText, Tags } from 'lucide-react';
import { useNavigate, useParams } from 'react-router';
import { addRole } from '../../core/app/access-edits.ts';
import { Index, IndexGroup, IndexItem } from '../shell/Index.tsx';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { BeginAccess } from './BeginAccess.tsx';
import { OpensDesk } from './OpensDesk.tsx';
import { RoleDesk } from './RoleDesk.tsx';
import { RulesDesk } from './RulesDesk.tsx';
import { WhatSees } from './WhatSees.tsx';

/** The People workspace: who may open the app, which roles there are, and who may do what. */
export function PeopleView() {
  const app = useApp();
  const home = useHome();
  const edit = useEdit();
  const navigate = useNavigate();
  const { thing } = useParams();
  const base = `${home}/people`;
  const { access } = app;
  const role = access?.roles.find((r) => r.id === thing);
  const rule = access?.rules.find((r) => r.id === thing);
  const shown = role ? 'role' : rule || thing === 'rules' ? 'rules' : thing === 'sees' ? 'sees' : 'opens';
  return (
    <>
      <Index label="People">
        <IndexGroup title="Who">
          <IndexItem to={`${base}/opens`} icon={DoorOpen} name="Who may open it" selected={shown === 'opens'} />
        </IndexGroup>
        {access && (
          <>
            <IndexGroup
              title="Roles"
              addLabel="Add a role"
              onAdd={() => {
                let made = '';
                void edit('Added a role', (a) => void (made = addRole(a.access!).id)).then(() =>
                  navigate(`${base}/${made}`),
                );
              }}
            >
              {access.roles.map((r) => (
                <IndexItem key={r.id} to={`${base}/${r.id}`} icon={Tags} name={r.name} selected={r.id === role?.id} />
              ))}
              {access.roles.length === 0 && <li className="px-2 py-1 text-sm text-ink-faint">None yet</li>}
            </IndexGroup>
            <IndexGroup title="Who may do what">
              <IndexItem to={`${base}/rules`} icon={ScrollText} name="Rules" selected={shown === 'rules'} />
              <IndexItem to={`${base}/sees`} icon={Eye} name="What can … see?" selected={shown === 'sees'} />
            </IndexGroup>
          </>
        )}
      </Index>
      <main className="thin-scroll min-w-0 flex-1 overflow-auto px-6 py-5">
        <div className="mx-auto max-w-[860px]">
          {!access ? (
            <BeginAccess />
          ) : role ? (
            <RoleDesk key={role.id} role={role} />
          ) : shown === 'rules' ? (
            <RulesDesk access={access} open={rule} />
          ) : shown === 'sees' ? (
            <WhatSees />
          ) : (
            <OpensDesk access={access} />
          )}
        </div>
      </main>
    </>
  );
}
