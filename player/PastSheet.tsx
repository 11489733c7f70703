import type { Answer, Question } from '../core/routines/asks.ts';
import { Sheet } from './Over.tsx';
import './past.css';

/** What happened to a record, the latest first; what a value was is put back by a press. */
export function PastSheet({
  question: { words, changes, earlier },
  answer,
}: {
  question: Extract<Question, { wants: 'a look back' }>;
  answer(given: Answer): void;
}) {
  const close = (): void => answer({ ok: true, value: null });
  return (
    <Sheet height="full" label={`History of ${words}`} onClose={close}>
      <div className="k-past">
        <p className="k-text" data-style="heading">
          {words}
        </p>
        {changes.length === 0 && <p className="k-past-none">Nothing is known of what was before.</p>}
        <ol>
          {changes.map((c) => (
            <li key={c.id}>
              <p className="k-past-said">
                <b>{c.said}</b> <time>{c.at}</time>
              </p>
              {c.cells.length > 0 && (
                <dl>
                  {c.cells.map((cell) => (
                    <div key={cell.name}>
                      <dt>{cell.name}</dt>
                      <dd>
                        {cell.was && <s>{cell.was}</s>}
                        {cell.was && cell.is && <span aria-hidden> → </span>}
                        {cell.is ? <ins>{cell.is}</ins> : <em>emptied</em>}
                      </dd>
                      {cell.back !== null && (
                        <button
                          type="button"
                          className="k-past-back"
                          aria-label={`Put back ${cell.name}: ${cell.was || 'empty'}`}
                          onClick={() => answer({ ok: true, value: cell.back })}
                        >
                          Put back
                        </button>
                      )}
                    </div>
                  ))}
                </dl>
              )}
            </li>
          ))}
        </ol>
        {earlier > 0 && (
          <button
            type="button"
            className="k-button"
            data-look="quiet"
            onClick={() => answer({ ok: true, value: 'earlier' })}
          >
            Show {earlier} earlier
          </button>
        )}
      </div>
    </Sheet>
  );
}
