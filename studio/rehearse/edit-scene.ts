import type { Scene } from '../../core/app/scene-schema.ts';

/** Changes a scene as one step that can be taken back. */
export type EditScene = (label: string, change: (scene: Scene) => void, merge?: string) => void;
