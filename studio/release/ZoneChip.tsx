import { useMemo } from 'react';
import { dateTimeText } from '../../core/formula/temporal.ts';
import { inZone } from '../../core/formula/zones.ts';
import { ChoiceChip, type Choice } from '../chips/ChoiceChip.tsx';
import { useApp, useStudio } from '../state/studio.ts';

/** Where nobody has chosen one, the app goes by the clock of its host. */
const NONE: Choice<string> = { value: '', label: 'that of the server' };

/** What the clocks of a zone show now, such as "16:05". */
function clockIn(zone: string): string {
  const now = inZone(Date.now(), zone);
  return now ? dateTimeText(now).slice(11, 16) : '';
}

/** The time zone of what the app does on its server. */
export function ZoneChip() {
  const app = useApp()!;
  const edit = useStudio((s) => s.edit);
  const zones = useMemo(() => [NONE, ...Intl.supportedValuesOf('timeZone').map(zoneChoice)], []);
  const now = app.zone && clockIn(app.zone);
  // One that this browser does not know stays chosen.
  const choices = app.zone && !zones.some((z) => z.value === app.zone) ? [zoneChoice(app.zone), ...zones] : zones;
  return (
    <span className="flex flex-wrap items-center gap-x-2 text-sm text-ink-soft">
      <ChoiceChip
        name="Time zone"
        tone="plain"
        value={app.zone ?? ''}
        choices={choices}
        onChange={(zone) =>
          void edit('Changed the time zone of the app', (a) => {
            if (zone) a.zone = zone;
            else delete a.zone;
          })
        }
      />
      {app.zone && <span className="tabular-nums">{now ? `${now} now` : 'not known to this browser'}</span>}
      <span className="text-ink-faint">for what the server does; phones use their own</span>
    </span>
  );
}

function zoneChoice(zone: string): Choice<string> {
  const [region, ...place] = zone.split('/');
  const label = place.join(' – ').replace(/_/g, ' ') || zone;
  return { value: zone, label, ...(place.length && { group: region! }) };
}
