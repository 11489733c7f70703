import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { BoardMessage } from '../../core/runs/board.ts';
import type { RunTrace } from '../../core/routines/run.ts';
import { ask } from '../../player/link.ts';
import { useStudio } from '../state/studio.ts';

/** What is wanted of a run on the host, or of all runs of a routine. */
export type RunWish = { do: 'run again' | 'end'; id: string } | { do: 'pause' | 'go on'; routine: string };

/** What the host of the released app does, and the ways to do something about it. */
export function useBoard() {
  const kept = useStudio((s) => s.kept);
  const client = useQueryClient();
  const [problem, setProblem] = useState('');
  const address = kept?.released?.address;
  const key = kept?.ownerKey ?? '';
  const path = `/api/apps/${address}/runs`;
  const queryKey = ['board', address];
  const queryFn = async (): Promise<BoardMessage> => BoardMessage.parse(await ask<unknown>(path, { key }));
  const { data, error } = useQuery({
    queryKey,
    queryFn,
    enabled: Boolean(address),
    refetchInterval: 3000,
  });
  const wish = async (json: RunWish): Promise<void> => {
    setProblem('');
    await ask(path, { method: 'POST', json, key }).catch((e: Error) => setProblem(e.message));
    await client.invalidateQueries({ queryKey });
  };
  /** A run with its steps; null where nothing of it is kept. */
  const trace = (id: string): Promise<RunTrace | null> => ask<RunTrace | null>(`${path}/${id}`, { key });
  /** Asks the server now; null where nothing is released. */
  const look = async (): Promise<BoardMessage | null> => (address ? client.fetchQuery({ queryKey, queryFn }) : null);
  return {
    address,
    board: data,
    look,
    problem: problem || (error ? (error as Error).message : ''),
    wish,
    trace,
    setProblem,
  };
}
