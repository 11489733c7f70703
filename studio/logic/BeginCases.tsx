import { Inbox } from 'lucide-react';
import { useNavigate } from 'react-router';
import { addCases } from '../../core/app/cases.ts';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';

/** Where nothing is made of mails yet: the beginning of a help desk, which can be undone and changed like anything else. */
export function BeginCases() {
  const app = useApp();
  const edit = useEdit();
  const navigate = useNavigate();
  const home = useHome();
  if (app.routines.some((r) => r.starts?.some((t) => t.on === 'mail came'))) return null;
  const begin = async (): Promise<void> => {
    let routine = '';
    await edit('Made cases of mails', (a) => void (routine = addCases(a).id));
    void navigate(`${home}/logic/${routine}`);
  };
  return (
    <section aria-label="Cases" className="card mt-3 px-5 py-4">
      <h2 className="text-md font-semibold">Make a case of each mail</h2>
      <p className="mt-1 mb-3 max-w-[60ch] text-ink-soft">
        Adds tables for cases and their messages, screens for them, and routines: a mail opens a case or is added to
        that of its thread, is summed up, judged and acknowledged; on the phone it is answered from a draft, and closed.
      </p>
      <Button icon={Inbox} onClick={() => void begin()}>
        Make cases of mails
      </Button>
    </section>
  );
}
