import { Upload, X } from 'lucide-react';
import { READABLE } from '../../core/app/contrast.ts';
import { FONT_IDS, FONTS, type FontId, type Palette } from '../../core/app/theme.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useStudio } from '../state/studio.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { chooseOwnPicture } from '../ui/own-picture.ts';
import { READ_ON, ROLE_WORDS, weakest } from './theme-colours.ts';

const FONT_WORDS: Record<FontId, string> = { hanken: 'Plain', bricolage: 'Strong', nunito: 'Round', source: 'Book' };

export function SideWords({ icon, words }: { icon: React.ReactNode; words: string }) {
  return (
    <span className="flex items-center gap-1.5">
      {icon} {words}
    </span>
  );
}

export function ColourLine({
  role,
  palette,
  changed,
  onChange,
}: {
  role: keyof Palette;
  palette: Palette;
  changed: boolean;
  onChange(colour: string | undefined): void;
}) {
  const low = weakest(palette, role);
  const said = READ_ON[role] ? `${low.toFixed(1)} : 1` : '';
  return (
    <li className="flex h-9 items-center gap-2.5">
      <input
        type="color"
        aria-label={ROLE_WORDS[role]}
        value={palette[role].toLowerCase()}
        onChange={(e) => onChange(e.target.value)}
        className="kite-swatch"
      />
      <span className="min-w-0 flex-1 truncate">{ROLE_WORDS[role]}</span>
      {said && (
        <span
          title="The lowest contrast to what is behind these words"
          className={low < READABLE ? 'font-semibold text-persimmon-deep' : 'text-ink-faint'}
        >
          {said}
        </span>
      )}
      {changed ? (
        <IconButton
          icon={X}
          size={13}
          label={`${ROLE_WORDS[role]} as the theme has it`}
          onClick={() => onChange(undefined)}
        />
      ) : (
        <span className="w-7" />
      )}
    </li>
  );
}

export function FontChip({ name, value, onChange }: { name: string; value: FontId; onChange(f: FontId): void }) {
  return (
    <ChoiceChip
      name={name}
      value={value}
      choices={FONT_IDS.map((f) => ({
        value: f,
        label: FONT_WORDS[f],
        hint: FONTS[f].replace(' Variable', ''),
      }))}
      onChange={onChange}
    />
  );
}

export function Range({
  label,
  value,
  least,
  most,
  step,
  shown,
  onChange,
}: {
  label: string;
  value: number;
  least: number;
  most: number;
  step: number;
  shown: string;
  onChange(n: number): void;
}) {
  return (
    <>
      <input
        type="range"
        aria-label={label}
        min={least}
        max={most}
        step={step}
        value={value}
        onChange={(e) => onChange(Number(e.target.value))}
        className="kite-range min-w-0 flex-1"
      />
      <span className="w-11 text-right font-mono text-xs text-ink-soft">{shown}</span>
    </>
  );
}

/** A picture that stands for the app: pictures can show it, and a drawer has it at its head. */
export function Logo() {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const file = app.files.find((f) => `file:${f.id}` === app.look.logo);
  const bring = async (): Promise<void> => {
    const picture = await chooseOwnPicture();
    if (picture)
      await edit('Gave the app a logo', (a) => {
        a.files.push(picture);
        a.look.logo = `file:${picture.id}`;
      });
  };
  return (
    <section className="card mt-3.5 flex items-center gap-4 px-4 py-3">
      <div className="min-w-0 flex-1">
        <h2 className="text-[14px]">Logo</h2>
        <p className="text-ink-soft">Pictures can show it, and a drawer has it at its head.</p>
      </div>
      {file && (
        <img
          src={`data:${file.type};base64,${file.data}`}
          alt="The logo"
          className="max-h-14 max-w-40 rounded-md border border-line bg-paper object-contain p-1"
        />
      )}
      <Button small icon={Upload} onClick={() => void bring()}>
        {file ? 'Another' : 'Choose a picture'}
      </Button>
      {file && (
        <IconButton
          icon={X}
          label="Take the logo off"
          onClick={() =>
            void edit('Took the logo off', (a) => {
              delete a.look.logo;
            })
          }
        />
      )}
    </section>
  );
}
