import { Paperclip, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { fileName } from '../../core/records/format.ts';
import type { FieldType } from '../../core/tables/schema.ts';
import { fileAddress } from '../../player/file-address.ts';
import { shrink } from '../../player/PhotoInput.tsx';
import { Button } from '../ui/controls.tsx';
import { chooseFiles } from '../ui/files.ts';
import type { EditorProps } from './CellEditor.tsx';
import { EditorCard } from './EditorCard.tsx';

const ACCEPT: Partial<Record<FieldType, string>> = { sound: 'audio/*', picture: 'image/*', file: '*/*' };
const CHOOSE: Partial<Record<FieldType, string>> = { sound: 'Choose a sound', picture: 'Choose a picture' };

/** A file, a sound or a picture: chosen, listened to, taken off; a picture may also be an address. */
export function FileEditor({ field, cell, typed, onKeep, onDone }: EditorProps) {
  const [problem, setProblem] = useState('');
  const [choosing, setChoosing] = useState(false);
  const address = typeof cell.raw === 'string' ? cell.raw : null;
  const choose = async (): Promise<void> => {
    setChoosing(true);
    const [file] = await chooseFiles(ACCEPT[field.type]!, false);
    setChoosing(false);
    if (!file) return;
    try {
      onKeep(field.type === 'picture' ? await shrink(file) : await fileAddress(file));
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
            defaultValue={typed ?? (address?.startsWith('data:') ? '' : (address ?? ''))}
            onKeyDown={(e) => {
              if (e.key !== 'Enter') return;
              const text = e.currentTarget.value.trim();
              if (text || !address?.startsWith('data:')) onKeep(text || null);
            }}
          />
        ) : (
          address && <p className="truncate pb-2 font-semibold">{fileName(address)}</p>
        )}
        {field.type === 'picture' && address && /^(https?:|data:image\/)/.test(address) && (
          <img src={address} alt="" className="mb-2 max-h-32 rounded-md" />
        )}
        {address && field.type === 'sound' && <audio controls src={address} className="mb-2 h-8 w-full" />}
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
