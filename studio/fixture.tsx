import '../player/fixture.ts';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, type RenderResult } from '@testing-library/react';
import { Tooltip } from 'radix-ui';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach } from 'vitest';
import type { App } from '../core/app/schema.ts';
import { hiveApp } from '../core/records/fixture.ts';
import { useStudio } from './state/studio.ts';

/** For tests of components: the hive app is open, and the engine answers what the test says. */

afterEach(() => {
  // What is shown goes first: it would be drawn once more, without its app.
  cleanup();
  useStudio.setState({ kept: null, app: null, shown: null, engine: null, phone: null, past: [], future: [] });
});

type Engine = NonNullable<ReturnType<typeof useStudio.getState>['engine']>;

/** Opens an app without a worker. What the engine is asked beyond `answers` fails the test. */
export function openApp(
  app: App = hiveApp(),
  answers: Record<string, Record<string, (...asked: never[]) => unknown>> = {},
): App {
  useStudio.setState({ app, shown: app, engine: answers as unknown as Engine });
  return app;
}

/** Shows a part of the studio as its page would. */
export function show(part: ReactNode): RenderResult {
  const around = ({ children }: { children: ReactNode }): ReactNode => (
    <QueryClientProvider client={new QueryClient()}>
      <Tooltip.Provider>
        <MemoryRouter>{children}</MemoryRouter>
      </Tooltip.Provider>
    </QueryClientProvider>
  );
  return render(part, { wrapper: around });
}
