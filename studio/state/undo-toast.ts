import { toast } from 'sonner';
import { useStudio } from './studio.ts';

/** Says what the last step did, with a button that takes back that step, and never another that was made since. */
export function toastWithUndo(words: string): void {
  const { past } = useStudio.getState();
  const step = past.at(-1);
  toast(words, {
    duration: 8000,
    action: {
      label: 'Undo',
      onClick: () => {
        const { past: now, undo } = useStudio.getState();
        if (now.at(-1) === step) void undo();
        else if (step && now.includes(step))
          toast('Something else was changed since. Undo, in the bar above, goes back step by step.');
      },
    },
  });
}
