import { useMemo } from 'react';
import { addPick } from '../../core/app/services.ts';
import { contentAddress, nameOfAnswer } from '../../core/services/parts.ts';
import type { Read } from '../../core/services/reply.ts';
import { FILES, type ServiceRequest } from '../../core/services/schema.ts';
import { Button } from '../ui/controls.tsx';
import type { ChangeRequest } from './change-request.ts';
import { sized } from './sized.ts';
import type { Shown } from './tries.ts';

const typeOf = (type: string): 'picture' | 'sound' | 'file' =>
  type.startsWith('image/') ? 'picture' : type.startsWith('audio/') ? 'sound' : 'file';

const NAMES = { picture: 'Picture', sound: 'Sound', file: 'File' } as const;

/** An answer that is a file: what it is, and the way to use it in the app. */
export function FileThatCame({
  read,
  tried,
  request,
  change,
}: {
  read: Extract<Read, { is: 'file' }>;
  tried: Shown;
  request: ServiceRequest;
  change: ChangeRequest;
}) {
  const { type, content } = read;
  const name = tried.answer ? nameOfAnswer(tried.answer.headers, tried.answer.url) : '';
  const picture = useMemo(
    () => (typeOf(type) === 'picture' ? contentAddress(content, type, '') : null),
    [content, type],
  );
  const taken = request.picks.find((p) => p.path === '$' && FILES.has(p.type));
  return (
    <div className="flex items-center gap-4 px-5 pt-2 pb-4">
      {picture && (
        <img
          src={picture}
          alt="What came"
          className="max-h-40 max-w-60 rounded-card border border-line object-contain"
        />
      )}
      <p className="min-w-0 flex-1 text-ink-soft">
        {name ? <b className="font-semibold text-ink">{name}</b> : 'A file'} of the type {type || 'unknown'},{' '}
        {sized(content.length)}.
      </p>
      {taken ? (
        <span className="text-ink-soft">Picked as {taken.name}</span>
      ) : (
        <Button
          onClick={() =>
            change(
              `Takes the answer of ${request.name} as a file`,
              (r) => void addPick(r, { name: NAMES[typeOf(type)], path: '$', type: typeOf(type) }),
            )
          }
        >
          Use the file
        </Button>
      )}
    </div>
  );
}
