import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { hiveApp } from '../core/records/fixture.ts';
import { iconsIn, PLAYER_ICONS } from './facts.ts';

describe('what an app needs without a network', () => {
  it('has the icons that are written in its document, on screens, in formulas and among choices', () => {
    const app = hiveApp();
    app.screens[0]!.icon = 'bell';
    app.screens[0]!.name = 'if busy then "clock" else "check"';
    const icons = iconsIn(app);
    for (const name of ['bell', 'clock', 'check']) expect(icons).toContain(name);
    expect(icons).not.toContain('trophy');
  });

  it('has every icon that the player draws by itself', () => {
    const drawn = ['player', 'kinds/elements'].flatMap((folder) =>
      readdirSync(folder, { recursive: true, encoding: 'utf8' })
        .filter((file) => file.endsWith('.tsx'))
        .flatMap((file) => [
          ...readFileSync(join(folder, file), 'utf8').matchAll(/(?:iconOf\('|<Sign name=")([a-z-]+)/g),
        ])
        .map((m) => m[1]!),
    );
    expect(drawn.length).toBeGreaterThan(5);
    expect(PLAYER_ICONS).toEqual(expect.arrayContaining(drawn));
  });
});
