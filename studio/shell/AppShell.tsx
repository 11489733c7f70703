import { PanelRightOpen, X } from 'lucide-react';
import { Component, useEffect, useState, type ReactNode } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { DataView } from '../data/DataView.tsx';
import { LogicView } from '../logic/LogicView.tsx';
import { PeopleView } from '../people/PeopleView.tsx';
import { RehearseView } from '../rehearse/RehearseView.tsx';
import { ReleaseView } from '../release/ReleaseView.tsx';
import { ScreensView } from '../screens/ScreensView.tsx';
import { ServicesView } from '../services/ServicesView.tsx';
import { leaveAt } from '../state/last-place.ts';
import { usePhone } from '../state/phone.ts';
import { useStudio } from '../state/studio.ts';
import { tellProblem, useSaving } from '../state/saving.ts';
import { Questions } from '../ui/ask.tsx';
import { Button, Empty, Note } from '../ui/controls.tsx';
import { isSomethingOpen } from '../ui/keys.ts';
import { Find } from './Find.tsx';
import { KeysSheet } from './KeysSheet.tsx';
import { PhonePane } from './PhonePane.tsx';
import { redoWithWords, TopBar, undoWithWords } from './TopBar.tsx';
import { TracePane } from './TracePane.tsx';

const VIEWS: Record<string, () => ReactNode> = {
  data: DataView,
  screens: ScreensView,
  logic: LogicView,
  services: ServicesView,
  people: PeopleView,
  rehearse: RehearseView,
  release: ReleaseView,
};

const inText = (e: EventTarget | null): boolean =>
  e instanceof HTMLElement && (e.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(e.tagName));

/** One app in the studio: the top bar, a workspace, the phone beside it and the trace below. */
export function AppShell() {
  const { id = '', workspace = 'data' } = useParams();
  const navigate = useNavigate();
  const opened = useStudio((s) => s.kept?.id);
  const name = useStudio((s) => s.app?.name);
  const open = useStudio((s) => s.open);
  const problem = useSaving((s) => s.problem);
  const phone = usePhone();
  const [failed, setFailed] = useState('');
  const [finding, setFinding] = useState(false);
  const [keys, setKeys] = useState(false);

  const { pathname, search } = useLocation();
  useEffect(() => leaveAt(id, workspace, pathname + search), [id, workspace, pathname, search]);
  useEffect(() => {
    setFailed('');
    open(id).catch((e: Error) => setFailed(e.message));
  }, [id, open]);
  useEffect(() => {
    document.title = opened === id ? `${name} - Mellow Kite` : 'Mellow Kite';
  }, [opened, name, id]);

  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      const command = e.ctrlKey || e.metaKey;
      if (command && e.key.toLowerCase() === 'k') {
        e.preventDefault();
        setFinding(true);
      } else if (inText(e.target) || isSomethingOpen()) return;
      else if (command && e.key.toLowerCase() === 'z') {
        e.preventDefault();
        void (e.shiftKey ? redoWithWords() : undoWithWords());
      } else if (command && e.key.toLowerCase() === 'y') {
        e.preventDefault();
        void redoWithWords();
      } else if (!command && e.key === '?') setKeys(true);
      else if (!command && !e.altKey && e.key.toLowerCase() === 'p') phone.toggleFolded();
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, [phone]);

  if (failed)
    return (
      <Empty title="This app cannot be opened" words={failed}>
        <Button look="main" onClick={() => void navigate('/')}>
          Go to all apps
        </Button>
      </Empty>
    );
  if (opened !== id)
    return (
      <p role="status" className="pt-[40vh] text-center text-ink-soft">
        Opening
      </p>
    );
  const View = VIEWS[workspace] ?? DataView;
  // It has phones, and a trace, of its own.
  const isRoom = workspace === 'rehearse';
  const does: Record<string, () => void> = {
    undo: () => void undoWithWords(),
    redo: () => void redoWithWords(),
    keys: () => setKeys(true),
    phone: phone.toggleFolded,
  };
  return (
    <div className="flex h-full min-w-[960px] flex-col">
      <TopBar onFind={() => setFinding(true)} />
      {problem && (
        <div className="border-b border-line p-2">
          <Note
            tone="bad"
            action={
              <button type="button" aria-label="Close this note" onClick={() => tellProblem(null)}>
                <X size={15} aria-hidden />
              </button>
            }
          >
            {problem}
          </Note>
        </div>
      )}
      <div className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          <div className="flex min-h-0 flex-1">
            <Guard key={workspace}>
              <View />
            </Guard>
          </div>
          {!isRoom && <TracePane />}
        </div>
        {isRoom ? null : phone.folded ? (
          <button
            type="button"
            onClick={phone.toggleFolded}
            aria-label="Unfold the phone (P)"
            className="flex w-8 shrink-0 items-start justify-center border-l border-line bg-sunk pt-4 text-ink-soft hover:text-ink"
          >
            <PanelRightOpen size={16} aria-hidden />
          </button>
        ) : (
          <PhonePane />
        )}
      </div>
      <Find open={finding} onOpenChange={setFinding} run={(command) => does[command]?.()} />
      <Questions />
      <KeysSheet open={keys} onOpenChange={setKeys} />
    </div>
  );
}

/** Keeps a fault in one workspace from taking the rest down; undo is the way back. */
class Guard extends Component<{ children: ReactNode }, { error: Error | null }> {
  override state: { error: Error | null } = { error: null };
  static getDerivedStateFromError(error: Error): { error: Error } {
    return { error };
  }
  override render(): ReactNode {
    if (!this.state.error) return this.props.children;
    return (
      <main className="flex-1">
        <Empty title="This view stopped" words={`Nothing is lost. ${this.state.error.message}`}>
          <Button
            look="main"
            onClick={() => {
              void undoWithWords();
              this.setState({ error: null });
            }}
          >
            Undo the last change and look again
          </Button>
        </Empty>
      </main>
    );
  }
}
