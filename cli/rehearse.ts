import '../kinds/elements/list/arranged.ts';
import { stepNumber } from '../core/app/scene-edits.ts';
import type { Bundle } from '../core/formats/bundle.ts';
import { stepKinds, triggerKinds } from '../core/routines/kinds.ts';
import { play } from '../core/scenes/play.ts';
import type { SceneResult } from '../core/scenes/result.ts';
import { plainSentence } from '../core/scenes/sentence.ts';
import { elementKinds } from '../core/screens/kinds.ts';

/** What came of a scene, as the command prints it. */
export interface PlayedScene {
  scene: string;
  passed: boolean;
  steps: number;
  ms: number;
  /** The first difference; step 0 where it could not begin. */
  failed?: {
    step: number;
    sentence: string;
    said: string;
    expected?: string;
    actual?: string;
    nearest?: string[];
    why?: string;
  };
  remarks: string[];
}

/** Plays the scenes of an app, or those of some names, on its records. Throws in words where there is none of a name. */
export async function rehearse({ app, records, files }: Bundle, names: readonly string[]): Promise<PlayedScene[]> {
  const scenes = app.scenes ?? [];
  for (const name of names)
    if (!scenes.some((s) => s.name === name))
      throw new Error(`There is no scene “${name}”. Scenes: ${scenes.map((s) => s.name).join(', ') || 'none'}.`);
  const kinds = { elements: elementKinds, steps: stepKinds, triggers: triggerKinds };
  const played: PlayedScene[] = [];
  for (const scene of scenes) {
    if (names.length && !names.includes(scene.name)) continue;
    const result = await play({
      app,
      scene,
      states: records,
      kinds,
      file: async (hash) => {
        const content = Object.hasOwn(files, hash) ? files[hash] : undefined;
        return content ? new Blob([new Uint8Array(content)]) : null;
      },
    });
    const step = scene.steps.find((s) => s.id === result.failed?.step);
    const at = step ? { number: stepNumber(scene, step.id), sentence: plainSentence(app, scene, step) } : null;
    played.push(toldOf(scene.name, result, at));
  }
  return played;
}

function toldOf(
  name: string,
  { passed, failed, steps, ms, problem }: SceneResult,
  at: { number: number; sentence: string } | null,
): PlayedScene {
  const { said = problem ?? '', expected, actual, nearest, why } = failed ?? {};
  return {
    scene: name,
    passed,
    steps: steps.length,
    ms: Math.round(ms),
    ...(!passed && {
      failed: {
        step: at?.number ?? 0,
        sentence: at?.sentence ?? '',
        said,
        ...(expected !== undefined && { expected }),
        ...(actual !== undefined && { actual }),
        ...(nearest?.length && { nearest }),
        ...(why !== undefined && { why }),
      },
    }),
    remarks: steps.flatMap((s) => s.remarks),
  };
}

/** What came of scenes as JUnit XML, which programs that build and test read: one suite, a test case for each scene. */
export function junitOf(app: string, played: readonly PlayedScene[]): string {
  const seconds = (ms: number): string => (ms / 1000).toFixed(3);
  const failures = played.filter((p) => !p.passed).length;
  const cases = played.map(({ scene, ms, failed }) => {
    const open = `    <testcase classname=${attribute(app)} name=${attribute(scene)} time="${seconds(ms)}"`;
    if (!failed) return `${open}/>`;
    const { step, sentence, said, expected, actual, nearest, why } = failed;
    const lines = [
      step > 0 ? `Step ${step}: ${sentence}` : '',
      said,
      why ?? '',
      expected === undefined ? '' : `Expected: ${expected}`,
      actual === undefined ? '' : `Actual: ${actual}`,
      nearest?.length ? `Most like it: ${nearest.join('; ')}` : '',
    ].filter(Boolean);
    return `${open}>\n      <failure message=${attribute(said)}>${text(lines.join('\n'))}</failure>\n    </testcase>`;
  });
  const all = `tests="${played.length}" failures="${failures}" time="${seconds(played.reduce((n, p) => n + p.ms, 0))}"`;
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<testsuites ${all}>`,
    `  <testsuite name=${attribute(app)} ${all}>`,
    ...cases,
    '  </testsuite>',
    '</testsuites>',
    '',
  ].join('\n');
}

/** Letters that XML 1.0 has no place for are left out (XML 1.0, 2.2). */
const NOT_IN_XML = /[^\P{Cc}\t\n\r]|\p{Cs}|[\uFFFE\uFFFF]/gu;
const text = (words: string): string =>
  words.replace(NOT_IN_XML, '').replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');
const attribute = (words: string): string =>
  `"${text(words).replaceAll('"', '&quot;').replaceAll('\n', '&#10;').replaceAll('\t', '&#9;').replaceAll('\r', '&#13;')}"`;
