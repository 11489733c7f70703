import { useEffect, useMemo, useState } from 'react';
import { ElementMaker } from '../../core/app/make.ts';
import type { Element } from '../../core/app/schema.ts';
import { newId } from '../../core/document/ids.ts';
import { frameFor } from '../shell/frame-seen.ts';
import { picture } from '../../player/picture.ts';
import { Player } from '../../player/Player.tsx';
import { usePhone } from '../state/phone.ts';
import { useApp, useEngine, usePreview } from '../state/studio.ts';

const PHONE = { width: 360, height: 480 };
const SCALE = 0.62;

/**
 * What an element would look like, drawn by the phone itself from the app's theme and records. `given` is the table
 * whose record is at hand where it would stand, `form` that of the form around it.
 */
export function Sample({ element, given, form }: { element: Element; given: string | null; form: string | null }) {
  const app = useApp();
  const engine = useEngine();
  const api = usePreview();
  const dark = usePhone((s) => s.dark);
  const frame = useMemo(() => ({ ...frameFor(app), tabs: [], drawer: undefined, isLive: false }), [app]);
  const [show, setShow] = useState<{ screen: string; record: string | null } | null>(null);
  useEffect(() => {
    let current = true;
    const make = new ElementMaker();
    const inner = form ? make.form(form, '', [element]) : element;
    const root = make.box('down', [inner], { inside: 16 });
    const screen = { id: newId('s'), name: 'Sample', given, icon: 'box', root };
    void Promise.all([given ? engine.looking.recordIds(given, 1) : [], engine.trySample(screen)]).then(
      ([ids]) => current && setShow({ screen: screen.id, record: ids[0] ?? null }),
    );
    return () => {
      current = false;
    };
  }, [engine, element, given, form]);
  const walk = useMemo(() => show && picture(api, show), [api, show]);
  return (
    <div
      inert
      aria-hidden
      data-sample
      className="m-1.5 overflow-hidden rounded-[10px] border border-line [&_.k-top]:hidden!"
      style={{ width: PHONE.width * SCALE, height: PHONE.height * SCALE }}
    >
      <div className="origin-top-left [font-size:16px]" style={{ ...PHONE, transform: `scale(${SCALE})` }}>
        {walk && <Player api={api} walk={walk} frame={frame} dark={dark} />}
      </div>
    </div>
  );
}
