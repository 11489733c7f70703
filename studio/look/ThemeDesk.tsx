import { Moon, Sun, Upload, X } from 'lucide-react';
import { useState } from 'react';
import { contrast, READABLE, readableOn } from '../../core/app/contrast.ts';
import type { App, Look } from '../../core/app/schema.ts';
import {
  COLOUR_ROLES,
  FONT_IDS,
  FONTS,
  SURFACES,
  TITLES,
  type FontId,
  type OwnLook,
  type Palette,
} from '../../core/app/theme.ts';
import { dressed } from '../../core/app/themes.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { usePhone } from '../state/phone.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Button, IconButton, Line, Note, Segmented } from '../ui/controls.tsx';
import { chooseOwnPicture } from '../ui/own-picture.ts';
import { ThemeChoice } from './ThemeChoice.tsx';

const ROLE_WORDS: Record<keyof Palette, string> = {
  accent: 'Main colour',
  onAccent: 'Words on it',
  ground: 'Ground',
  card: 'Cards',
  tint: 'Tint',
  edge: 'Lines',
  ink: 'Words',
  soft: 'Soft words',
  good: 'Good',
  look: 'Worth a look',
  bad: 'Bad',
};

/** Colours of words, with the grounds they stand on. */
const READ_ON: Partial<Record<keyof Palette, readonly (keyof Palette)[]>> = {
  accent: ['ground', 'card'],
  onAccent: ['accent'],
  ink: ['ground', 'card', 'tint'],
  soft: ['ground', 'card', 'tint'],
  good: ['card'],
  look: ['card'],
  bad: ['card'],
};

const FONT_WORDS: Record<FontId, string> = { hanken: 'Plain', bricolage: 'Strong', nunito: 'Round', source: 'Book' };

type Side = 'light' | 'dark';

/** The look of the whole app: a theme, its colours by what they are for, text, corners, spacing, surfaces, a logo. */
export function ThemeDesk() {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const { dark, toggleDark } = usePhone();
  const [side, setSide] = useState<Side>(dark ? 'dark' : 'light');
  const look = dressed(app.look);
  const own = app.look.own ?? {};
  const change = (label: string, recipe: (own: OwnLook, look: Look) => void, merge?: string): void =>
    void edit(
      label,
      (a) => {
        const next: OwnLook = { ...a.look.own };
        recipe(next, a.look as Look);
        for (const key of Object.keys(next) as (keyof OwnLook)[]) if (next[key] === undefined) delete next[key];
        if (Object.keys(next).length) a.look.own = next as App['look']['own'];
        else delete a.look.own;
      },
      merge ? { merge } : {},
    );
  const show = (to: Side): void => {
    setSide(to);
    if ((to === 'dark') !== dark) toggleDark();
  };
  const setColour = (role: keyof Palette, colour: string | undefined): void =>
    change(
      `Changed the colour of ${ROLE_WORDS[role].toLowerCase()}`,
      (o) => {
        const colours = { ...o[side] };
        if (colour) colours[role] = colour;
        else delete colours[role];
        o[side] = Object.keys(colours).length ? colours : undefined;
      },
      `colour ${side} ${role}`,
    );
  const palette = look[side];
  const unread = COLOUR_ROLES.filter((r) => weakest(palette, r) < READABLE);
  return (
    <>
      <h1 className="mb-1 text-xl">Theme</h1>
      <p className="mb-3 text-md text-ink-soft">Every screen takes its colours, text and corners from here.</p>
      <section className="card mb-3.5 px-4 py-3">
        <ThemeChoice />
      </section>

      <section className="card mb-3.5 px-4 py-3">
        <div className="mb-2 flex items-center justify-between">
          <h2 className="text-[14px]">Colours</h2>
          <Segmented
            label="Colours by day or night"
            value={side}
            options={[
              ['light', <SideWords key="l" icon={<Sun size={13} aria-hidden />} words="Light" />],
              ['dark', <SideWords key="d" icon={<Moon size={13} aria-hidden />} words="Dark" />],
            ]}
            onChange={show}
          />
        </div>
        <ul className="grid grid-cols-2 gap-x-6">
          {COLOUR_ROLES.map((role) => (
            <ColourLine
              key={role}
              role={role}
              palette={palette}
              changed={own[side]?.[role] !== undefined || (role === 'accent' && side === 'light' && !!app.look.accent)}
              onChange={(c) =>
                role === 'accent' && side === 'light'
                  ? change(
                      'Changed the main colour',
                      (_, l) => {
                        l.accent = c ?? null;
                      },
                      'accent',
                    )
                  : setColour(role, c)
              }
            />
          ))}
        </ul>
        {unread.length > 0 && (
          <div className="mt-2">
            <Note
              action={
                <Button
                  small
                  onClick={() =>
                    change('Made all words readable', (o, l) => {
                      const mended = mendedColours(dressed(l)[side], unread);
                      o[side] = { ...o[side], ...mended };
                    })
                  }
                >
                  Mend {unread.length === 1 ? 'it' : 'them'}
                </Button>
              }
            >
              {listed(unread.map((r) => ROLE_WORDS[r]))} cannot be read well everywhere: words need a contrast of{' '}
              {READABLE} to what is behind them.
            </Note>
          </div>
        )}
      </section>

      <div className="grid grid-cols-2 gap-3.5">
        <section className="card px-4 py-3">
          <h2 className="mb-1 text-[14px]">Text</h2>
          <Line label="Words in">
            <FontChip
              name="Font of words"
              value={look.text}
              onChange={(f) =>
                change('Changed the font', (o) => {
                  o.text = f === 'hanken' ? undefined : f;
                })
              }
            />
          </Line>
          <Line label="Titles in">
            <FontChip
              name="Font of titles"
              value={look.head}
              onChange={(f) =>
                change('Changed the font of titles', (o) => {
                  o.head = f;
                })
              }
            />
          </Line>
          <Line label="Titles are">
            <Segmented
              label="Size of titles"
              value={look.titles}
              options={TITLES.map((t) => [t, capital(t)] as const)}
              onChange={(t) =>
                change('Changed the size of titles', (o) => {
                  o.titles = t === 'usual' ? undefined : t;
                })
              }
            />
          </Line>
        </section>
        <section className="card px-4 py-3">
          <h2 className="mb-1 text-[14px]">Shape</h2>
          <Line label="Corners">
            <Range
              label="Corners"
              value={look.corners}
              least={0}
              most={28}
              step={2}
              shown={`${look.corners} px`}
              onChange={(n) =>
                change(
                  'Changed the corners',
                  (o) => {
                    o.corners = n;
                  },
                  'corners',
                )
              }
            />
          </Line>
          <Line label="Spacing">
            <Range
              label="Spacing"
              value={look.density}
              least={0.7}
              most={1.4}
              step={0.05}
              shown={`${Math.round(look.density * 100)} %`}
              onChange={(n) =>
                change(
                  'Changed the spacing',
                  (o) => {
                    o.density = n;
                  },
                  'density',
                )
              }
            />
          </Line>
          <Line label="Cards are">
            <Segmented
              label="Surface of cards"
              value={look.surfaces}
              options={SURFACES.map((s) => [s, capital(s)] as const)}
              onChange={(s) =>
                change('Changed the surfaces', (o) => {
                  o.surfaces = s === 'edged' ? undefined : s;
                })
              }
            />
          </Line>
        </section>
      </div>
      <Logo />
    </>
  );
}

function SideWords({ icon, words }: { icon: React.ReactNode; words: string }) {
  return (
    <span className="flex items-center gap-1.5">
      {icon} {words}
    </span>
  );
}

/** The lowest contrast of a colour of words to what it stands on; no limit for colours of no words. */
const weakest = (p: Palette, role: keyof Palette): number =>
  Math.min(21, ...(READ_ON[role] ?? []).map((ground) => contrast(p[role], p[ground])));

/** Readable colours for these roles, one after the other, since what stands on the main colour goes by it. */
function mendedColours(p: Palette, roles: readonly (keyof Palette)[]): Partial<Palette> {
  const next = { ...p };
  for (const role of roles)
    next[role] = readableOn(
      next[role],
      READ_ON[role]!.map((g) => next[g]),
    );
  if (weakest(next, 'onAccent') < READABLE) next.onAccent = readableOn(next.onAccent, [next.accent]);
  return Object.fromEntries(COLOUR_ROLES.filter((r) => next[r] !== p[r]).map((r) => [r, next[r]]));
}

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);
const listed = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)!.toLowerCase()}`;

function ColourLine({
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

function FontChip({ name, value, onChange }: { name: string; value: FontId; onChange(f: FontId): void }) {
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

function Range({
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
function Logo() {
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
