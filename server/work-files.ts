import { HostWork, type WorkPorts } from '../core/runs/host-work.ts';
import { readRuns } from '../core/runs/live-run.ts';
import { RunsFile } from './runs-file.ts';
import { TextFile } from './text-file.ts';

/** What a host does for an app by itself, with what was kept of it in a folder. Nothing runs before it is opened. */
export async function workIn(folder: string, ports: WorkPorts): Promise<HostWork> {
  const runs = await RunsFile.open(`${folder}/runs.jsonl`);
  const mails = await RunsFile.open(`${folder}/mails.jsonl`);
  const kept = await readRuns(runs, ports.say);
  const sent = ports.relay && (await RunsFile.open(`${folder}/sent.jsonl`));
  const sentTexts = ports.textRelay && (await RunsFile.open(`${folder}/texts.jsonl`));
  const keeps = {
    runs,
    mails,
    hooks: new TextFile(`${folder}/hooks.key`, false, 0o600),
    calls: new TextFile(`${folder}/calls.json`, true),
    sent,
    sentTexts,
    close: async () => {
      for (const file of [sent, sentTexts, runs, mails]) await file?.close();
    },
  };
  return new HostWork(ports, keeps, kept);
}
