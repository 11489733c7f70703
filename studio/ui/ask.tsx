import { AlertDialog } from 'radix-ui';
import { create } from 'zustand';
import { Button } from './controls.tsx';

/** A question before something large is done, with what can be chosen. */
interface Question {
  title: string;
  words: string;
  choices: readonly { value: string; label: string; main?: boolean }[];
  answer(value: string | null): void;
}

const useQuestion = create<{ question: Question | null }>(() => ({ question: null }));

/** Asks, and gives what was chosen; null when nothing was to be done. */
export const askFirst = (question: Omit<Question, 'answer'>): Promise<string | null> =>
  new Promise((answer) => {
    useQuestion.getState().question?.answer(null);
    useQuestion.setState({ question: { ...question, answer } });
  });

/** Where the questions are shown. Once in the page. */
export function Questions() {
  const question = useQuestion((s) => s.question);
  const close = (value: string | null): void => {
    useQuestion.setState({ question: null });
    question?.answer(value);
  };
  return (
    <AlertDialog.Root open={question !== null} onOpenChange={(open) => !open && close(null)}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <AlertDialog.Content className="float fixed top-[22vh] left-1/2 z-50 w-[460px] max-w-[92vw] -translate-x-1/2 p-5">
          <AlertDialog.Title className="text-lg">{question?.title}</AlertDialog.Title>
          <AlertDialog.Description className="mt-1.5 text-ink-soft">{question?.words}</AlertDialog.Description>
          <div className="mt-5 flex flex-wrap justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button look="quiet">Cancel</Button>
            </AlertDialog.Cancel>
            {question?.choices.map((c) => (
              <Button key={c.value} look={c.main ? 'main' : 'plain'} onClick={() => close(c.value)}>
                {c.label}
              </Button>
            ))}
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
