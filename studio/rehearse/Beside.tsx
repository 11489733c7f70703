import { useState } from 'react';
import { Segmented } from '../ui/controls.tsx';
import { RoomMail } from './RoomMail.tsx';
import { RoomRecords } from './RoomRecords.tsx';
import { RoomTrace } from './RoomTrace.tsx';

type Tab = 'trace' | 'mail' | 'records';

/** What happens in the room, what goes out and comes in, and what is otherwise than at the beginning. */
export function Beside() {
  const [tab, setTab] = useState<Tab>('trace');
  return (
    <aside
      aria-label="What happens"
      className="flex w-[372px] shrink-0 flex-col border-l border-line bg-raised max-[1100px]:w-[300px]"
    >
      <div className="flex h-[52px] shrink-0 items-center border-b border-line px-4">
        <Segmented<Tab>
          label="Show"
          value={tab}
          onChange={setTab}
          options={[
            ['trace', 'Trace'],
            ['mail', 'Mail and messages'],
            ['records', 'Records'],
          ]}
        />
      </div>
      <div className="min-h-0 flex-1 overflow-auto thin-scroll">
        {tab === 'trace' ? <RoomTrace /> : tab === 'mail' ? <RoomMail /> : <RoomRecords />}
      </div>
    </aside>
  );
}
