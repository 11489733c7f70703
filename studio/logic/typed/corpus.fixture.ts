import { readFileSync } from 'node:fs';
import { WORLDS, type World } from './worlds.fixture.ts';

/** A sentence of the corpus, the world it is said in, and what it means. */
export interface Sentence {
  typed: string;
  /** The steps as they are said; “?” where it cannot be told what is meant. */
  meant: string;
  world: World;
  half: 'built with' | 'held back' | 'afterwards';
}

const lines = (name: string): string[] =>
  readFileSync(new URL(`../corpus/${name}.txt`, import.meta.url), 'utf8')
    .split('\n')
    .filter((l) => l && !l.startsWith('#'));

const sentence = (line: string, world: World, half: Sentence['half']): Sentence => {
  const [typed, meant] = line.split(' => ') as [string, string];
  return { typed, meant, world, half };
};

/** Every second sentence of the first four files was held back while the grammar was built. */
export const corpus: readonly Sentence[] = [
  ...Object.entries(WORLDS).flatMap(([name, world]) =>
    lines(name).map((line, i) => sentence(line, world, i % 2 ? 'held back' : 'built with')),
  ),
  ...lines('afterwards').map((line) => {
    const at = line.indexOf(': ');
    return sentence(line.slice(at + 2), WORLDS[line.slice(0, at)]!, 'afterwards');
  }),
];
