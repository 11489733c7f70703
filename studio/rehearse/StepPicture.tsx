import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { useEffect, useRef, useState } from 'react';
import type { App } from '../../core/app/schema.ts';
import type { Scene, SceneStep } from '../../core/app/scene-schema.ts';
import { stillsOf } from './scenes.ts';
import { focusOf, iconOf, pictureOf } from './step-picture.ts';
import { StillPhone } from './StillPhone.tsx';

/** The small picture of then, or a sign for what is no phone. It is drawn when it comes into view. */
export function StepPicture({
  app,
  scene,
  step,
  nth,
  ids,
}: {
  app: App;
  scene: Scene;
  step: SceneStep;
  /** The playing whose pictures are shown; 0 before the first. */
  nth: number;
  /** The ids that records have now, by those of the recording. */
  ids: Readonly<Record<string, string>>;
}) {
  const place = useRef<HTMLDivElement>(null);
  const [near, setNear] = useState(false);
  const when = pictureOf(step);
  const at = scene.steps.findIndex((s) => s.id === step.id);
  const of =
    when === 'after' ? step.id : (scene.steps.slice(0, at).findLast((s) => !s.off && s.do !== 'part')?.id ?? null);
  useEffect(() => {
    if (!place.current || near) return;
    const watch = new IntersectionObserver(([e]) => e?.isIntersecting && setNear(true), { rootMargin: '300px' });
    watch.observe(place.current);
    return () => watch.disconnect();
  }, [near]);
  const { data } = useQuery({
    queryKey: ['scene picture', scene.id, of, nth],
    queryFn: () => stillsOf(scene.id, of),
    enabled: near && when !== null && nth > 0,
    placeholderData: (before) => before,
    gcTime: 0,
    staleTime: Infinity,
  });
  const Icon = iconOf(step);
  const still = 'who' in step ? data?.find((s) => s.who === step.who)?.still : null;
  return (
    <div ref={place} className={clsx('grid w-[104px] shrink-0 place-items-center', when === null ? 'h-6' : 'h-[64px]')}>
      {when === null ? (
        <Icon size={18} aria-hidden className="text-ink-faint" />
      ) : still ? (
        <StillPhone app={app} still={still} width={104} height={64} focus={focusOf(step, ids)} />
      ) : (
        <span className="h-full w-full rounded-lg border border-dashed border-line" />
      )}
    </div>
  );
}
