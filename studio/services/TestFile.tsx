import { Paperclip } from 'lucide-react';
import { fileName } from '../../core/fields/kept-address.ts';
import { contentAddress, MOST_SENT_BYTES } from '../../core/services/parts.ts';
import type { ServiceRequest } from '../../core/services/schema.ts';
import { tellProblem } from '../state/saving.ts';
import { Button } from '../ui/controls.tsx';
import { chooseFiles } from '../ui/files.ts';
import { useTries } from './tries.ts';

const ACCEPTS: Partial<Record<string, string>> = { picture: 'image/*', sound: 'audio/*' };

/** The file that an input is tried with. It is here until the page is closed, and no part of the app. */
export function TestFile({ input }: { input: ServiceRequest['inputs'][number] }) {
  const file = useTries((s) => s.files[input.id]);
  const choose = async (): Promise<void> => {
    const [chosen] = await chooseFiles(ACCEPTS[input.type] ?? '', false);
    if (!chosen) return;
    if (chosen.size > MOST_SENT_BYTES)
      return tellProblem(`Files of up to ${MOST_SENT_BYTES / 1_000_000} MB can be sent to a service.`);
    const content = new Uint8Array(await chosen.arrayBuffer());
    useTries.getState().putFile(input.id, contentAddress(content, chosen.type, chosen.name));
  };
  return (
    <Button small icon={Paperclip} aria-label={`Test file of ${input.name}`} onClick={() => void choose()}>
      <span className="max-w-40 truncate">{file ? fileName(file) : 'Choose a file'}</span>
    </Button>
  );
}
