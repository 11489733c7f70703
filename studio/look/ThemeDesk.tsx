import { Moon, Sun } from 'lucide-react';
import { useState } from 'react';
import { READABLE } from '../../core/app/contrast.ts';
import type { App, Look } from '../../core/app/schema.ts';
import { COLOUR_ROLES, SURFACES, TITLES, type OwnLook, type Palette } from '../../core/app/theme.ts';
import { dressed } from '../../core/app/themes.ts';
import { usePhone } from '../state/phone.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Button, Line, Note, Segmented } from '../ui/controls.tsx';
import { mendedColours, ROLE_WORDS, weakest } from './theme-colours.ts';
import { ThemeChoice } from './ThemeChoice.tsx';
import { ColourLine, FontChip, Logo, Range, SideWords } from './ThemeParts.tsx';

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);
const listed = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)!.toLowerCase()}`;

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
