import { Paperclip, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { fileName, fileType } from '../../core/fields/kept-address.ts';
import type { FieldType } from '../../core/tables/schema.ts';
import { useKept } from '../../player/kept.ts';
import { photoName, shrink } from '../../player/PhotoInput.tsx';
import { usePhone } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { chooseFiles } from '../ui/files.ts';
import type { EditorProps } from './CellEditor.tsx';
import { EditorCard } from './EditorCard.tsx';

const ACCEPT: Partial<Record<FieldType, string>> = { sound: 'audio/*', picture: 'image/*', file: '*/*' };
const CHOOSE: Partial<Record<FieldType, string>> = { sound: 'Choose a sound', picture: 'Choose a picture' };

const smaller = (file: File): Promise<Blob> =>
  shrink(file).catch(() => {
    throw new Error(`“${file.name}” cannot be read as a picture. Choose a JPEG or PNG.`);
  });

/** A file, a sound or a picture: chosen, listened to, taken off; a picture may also be an address. */
export function FileEditor({ field, cell, typed, onKeep, onDone }: EditorProps) {
  const [problem, setProblem] = useState('');
  const [choosing, setChoosing] = useState(false);
  const phone = usePhone();
  const address = typeof cell.raw === 'string' ? cell.raw : null;
  const kept = address !== null && fileType(address) !== null;
  const { url, lost } = useKept(phone, address ?? '');
  const choose = async (): Promise<void> => {
    setChoosing(true);
    const [file] = await chooseFiles(ACCEPT[field.type]!, false);
    setChoosing(false);
    if (!file) return;
    try {
      const content = field.type === 'picture' ? await smaller(file) : file;
      onKeep(await phone.keepFile(content, content === file ? file.name : photoName(file.name)));
      onDone(0, 0);
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  return (
    <EditorCard label={field.name} onDone={() => !choosing && onDone(0, 0)} width={260}>
      <div className="p-1.5">
        {field.type === 'picture' ? (
          <input
            autoFocus
            aria-label={field.name}
            className="field mb-2"
            placeholder="https://…, or choose a picture"
            defaultValue={typed ?? (kept ? '' : (address ?? ''))}
            onKeyDown={(e) => {
              if (e.key !== 'Enter') return;
              const text = e.currentTarget.value.trim();
              if (text || !kept) onKeep(text || null);
            }}
          />
        ) : (
          address && <p className="truncate pb-2 font-semibold">{fileName(address)}</p>
        )}
        {field.type === 'picture' && url && /^(https?:|data:image\/|blob:)/.test(url) && (
          <img src={url} alt="" className="mb-2 max-h-32 rounded-md" />
        )}
        {lost && <p className="mb-2 text-sm text-ink-soft">It cannot be fetched from the server now.</p>}
        {url && field.type === 'sound' && <audio controls src={url} className="mb-2 h-8 w-full" />}
        <div className="flex flex-wrap gap-2">
          <Button small icon={Paperclip} autoFocus={field.type !== 'picture'} onClick={() => void choose()}>
            {address ? 'Choose another' : (CHOOSE[field.type] ?? 'Choose a file')}
          </Button>
          {address && (
            <Button
              small
              icon={Trash2}
              onClick={() => {
                onKeep(null);
                onDone(0, 0);
              }}
            >
              Take it off
            </Button>
          )}
        </div>
        {problem && <p className="mt-2 text-sm text-persimmon-deep">{problem}</p>}
      </div>
    </EditorCard>
  );
}
