import { useQuery } from '@tanstack/react-query';
import { ExpectThis } from './ExpectThis.tsx';
import { useRoom } from './room.ts';

/** The records that are otherwise than at the beginning of the rehearsal, and by whom. */
export function RoomRecords() {
  const engine = useRoom((s) => s.engine);
  const which = useRoom((s) => s.which);
  const notes = useRoom((s) => s.state?.notes);
  const { data } = useQuery({
    queryKey: ['room records', which, notes],
    // Each is looked at once: the next note makes another.
    gcTime: 1000,
    queryFn: () => engine!.room.changedRecords(),
    enabled: engine !== null,
    placeholderData: (before) => before,
  });
  if (!data) return <p className="px-4 py-3 text-ink-soft">Looking</p>;
  if (data.records.length === 0)
    return <p className="px-4 py-3 text-ink-soft">All records are as they were when the rehearsal began.</p>;
  return (
    <ul className="px-4 py-1.5">
      {data.records.map((r) => (
        <li key={r.record} className="group border-b border-line/60 py-2 last:border-0">
          <p className="flex items-start gap-2">
            <b className="min-w-0 flex-1 font-semibold break-words">{r.name}</b>
            <ExpectThis
              what={r.did === 'removed' ? `that ${r.name} is gone` : r.name}
              expect={() => engine!.expectRecord(r.table, r.record, null)}
            />
          </p>
          <p className="text-sm text-ink-faint">
            {r.did} by {r.by.join(', ')}
          </p>
          {r.fields.map((f) => (
            <p key={f.id} className="group/field mt-0.5 flex items-start gap-2 text-sm text-ink-soft">
              <span className="min-w-0 flex-1 break-words">
                {f.name}:{' '}
                {r.did !== 'added' && (
                  <>
                    <span className="line-through decoration-line-strong">{f.was}</span>{' '}
                  </>
                )}
                <span className="text-ink">{f.is}</span>
              </span>
              <ExpectThis what={`${f.name}: ${f.is}`} expect={() => engine!.expectRecord(r.table, r.record, f.id)} />
            </p>
          ))}
        </li>
      ))}
      {data.all > data.records.length && (
        <li className="py-2 text-sm text-ink-soft">These are the latest of {data.all.toLocaleString('en-GB')}.</li>
      )}
    </ul>
  );
}
