import { useState, type ReactNode } from 'react';
import { PanelRightClose } from 'lucide-react';
import { IconButton, Segmented } from '../ui/controls.tsx';
import { RoomMail } from './RoomMail.tsx';
import { RoomOutside } from './RoomOutside.tsx';
import { RoomRecords } from './RoomRecords.tsx';
import { RoomScene } from './RoomScene.tsx';
import { RoomTrace } from './RoomTrace.tsx';

type Tab = 'scene' | 'trace' | 'mail' | 'outside' | 'records';
const TABS: Record<Tab, () => ReactNode> = {
  scene: RoomScene,
  trace: RoomTrace,
  mail: RoomMail,
  outside: RoomOutside,
  records: RoomRecords,
};

/** What happens in the room, what goes out and comes in, and what is otherwise than at the beginning. */
export function Beside({ fold }: { fold(): void }) {
  const [tab, setTab] = useState<Tab>('trace');
  const Shown = TABS[tab];
  return (
    <aside
      aria-label="What happens"
      className="flex w-[372px] shrink-0 flex-col border-l border-line bg-raised max-[1100px]:w-[340px]"
    >
      <div className="flex h-[52px] shrink-0 items-center justify-between gap-2 border-b border-line pr-2 pl-4">
        <Segmented<Tab>
          label="Show"
          value={tab}
          onChange={setTab}
          options={[
            ['scene', 'Scene'],
            ['trace', 'Trace'],
            ['mail', 'Mail'],
            ['outside', 'Outside'],
            ['records', 'Records'],
          ]}
        />
        <IconButton icon={PanelRightClose} label="Fold this away" onClick={fold} />
      </div>
      <div data-scrolls className="min-h-0 flex-1 overflow-auto thin-scroll">
        <Shown />
      </div>
    </aside>
  );
}
