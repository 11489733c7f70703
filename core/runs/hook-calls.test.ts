import { describe, expect, it } from 'vitest';
import { MemoryText } from '../document/kept-text.ts';
import { fieldTypes } from '../fields/kinds.ts';
import { VirtualClock } from '../world/clock.ts';
import { checkCell } from '../records/check-cell.ts';
import type { Cell } from '../fields/lists.ts';
import { HookCalls } from './hook-calls.ts';
import { sampleCall } from './sample-call.ts';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

describe('calls that were kept', () => {
  it('are the latest twenty of each routine, also after a stop; what is spoilt on the disk is none', async () => {
    const clock = new VirtualClock(0);
    const port = new MemoryText();
    const calls = new HookCalls(port, clock);
    for (let i = 0; i < 25; i++) await calls.add(`h${i}`, 'q_a', bytes(`{"n":${i}}`));
    await calls.add('other', 'q_b', bytes('x'.repeat(30_000)), 'Too much.');
    await clock.pass(2000);
    const again = new HookCalls(port, clock);
    expect((await again.of('q_a')).map((c) => c.id)).toEqual(Array.from({ length: 20 }, (_, i) => `h${24 - i}`));
    expect(await again.of('q_b')).toEqual([{ id: 'other', routine: 'q_b', at: 0, body: null, bytes: 30_000, refused: 'Too much.' }]); // prettier-ignore
    expect(await new HookCalls(new MemoryText('{'), clock).of('q_a')).toEqual([]);
  });
  it('go with somebody who is erased', async () => {
    const port = new MemoryText();
    const calls = new HookCalls(port, new VirtualClock(0));
    await calls.add('h1', 'q_a', bytes('{"mail":"ada@post.example"}'));
    await calls.add('h2', 'q_a', bytes('{"mail":"bo@post.example"}'));
    await calls.forget((text) => text.includes('ada@'));
    expect((await calls.of('q_a')).map((c) => c.id)).toEqual(['h2']);
    expect(port.text).not.toContain('ada@');
  });
});

describe('a sample of what is sent', () => {
  it('has a value for each input that takes one, of its type', () => {
    // What is worked out, or said by whoever changes a record, is no input.
    const types = fieldTypes()
      .map((d) => d.type)
      .filter((t) => !['formula', 'created', 'changed'].includes(t));
    for (const type of types) {
      const input = { id: 'i_1', name: 'Value', type, first: '' } as never;
      const { Value } = JSON.parse(sampleCall([input])) as { Value: Cell };
      expect([type, checkCell(input, Value)]).toEqual([type, null]);
    }
    const known = [{ id: 'i_1', name: 'What', type: 'text', first: '', from: 'what was sent' }] as never;
    expect(sampleCall(known)).toBe('{}');
  });
});
