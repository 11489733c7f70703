import type { App } from '../app/schema.ts';
import { MemoryText } from '../document/kept-text.ts';
import { deviceClock } from '../document/time.ts';
import { MemoryFiles, MemoryLog, MemoryMessages } from './memory.ts';
import type { Happening, ReleasedPorts } from './ports.ts';
import { ReleasedApp } from './released.ts';

/** A released app that runs in this process and keeps all in memory, but for what `ports` give; its services refuse. */
export const inMemory = (
  app: App,
  tell: (what: Happening) => void = () => {},
  kept: ConstructorParameters<typeof ReleasedApp>[1] = null,
  ports: Partial<ReleasedPorts> = {},
): ReleasedApp =>
  new ReleasedApp(app, kept, {
    clock: deviceClock,
    log: new MemoryLog(),
    files: new MemoryFiles(),
    messages: new MemoryMessages(),
    listeners: new MemoryText(),
    erasing: new MemoryText(),
    mostFileBytes: 1,
    address: 'app@mellow-kite.example',
    services: async () => ({ failed: { sort: 'refused', words: 'No.' } }),
    tell,
    ...ports,
  });
