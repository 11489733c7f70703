import type { Who } from '../core/access/access.ts';
import type { App } from '../core/app/schema.ts';
import { Refused } from '../core/document/refused.ts';
import { deviceClock } from '../core/document/time.ts';
import type { KeptMessage } from '../core/released/messages.ts';
import type { ReleasedApp } from '../core/released/released.ts';
import { WebPush, type Note } from '../core/released/web-push.ts';
import type { OpenQuestion } from '../core/runs/questions.ts';
import type { PushPort } from './running.ts';
import type { SubscribeMessage } from './messages.ts';
import { RunsFile } from './runs-file.ts';

const noteOf = ({ id, subject, body, at }: KeptMessage): Note => ({
  id,
  title: subject,
  words: body,
  at: Date.parse(at),
});

interface Ports {
  app(): App;
  released(): ReleasedApp;
  push: PushPort;
  say(words: string): void;
}

/** What phones are told of an app while it is closed on them: notices, and what runs ask people. */
export class AppPush {
  private constructor(
    readonly web: WebPush,
    private readonly file: RunsFile,
    private readonly ports: Ports,
  ) {}

  /** Reads nothing before {@link open}. */
  static async read(folder: string, ports: Ports): Promise<AppPush> {
    const file = await RunsFile.open(`${folder}/phones.jsonl`);
    const { app, released, push, say } = ports;
    const web = new WebPush({
      clock: deviceClock,
      lines: file,
      notes: async (person, since) => (await released().noticesFor(person, new Date(since).toISOString())).map(noteOf),
      mayBeTold: ({ person, session }) => {
        const signsIn = Boolean(app().access?.mail);
        return signsIn ? session !== undefined && released().comingIn.mayCome(person) : session === undefined;
      },
      push: (subscriber, message) => push(subscriber, (JSON.parse(message) as Note).id, message),
      say,
    });
    return new AppPush(web, file, ports);
  }

  open(): Promise<void> {
    return this.web.open();
  }

  /** A phone is told from now on what is for whoever uses it: who has signed in, or says so where nobody signs in. */
  async subscribe({ person, device, subscription }: SubscribeMessage, who: Who, session?: string): Promise<void> {
    const { app, released } = this.ports;
    const signsIn = Boolean(app().access?.mail);
    if (signsIn && !(who.mail && session)) throw new Refused(401, 'Sign in to be told what is for you.');
    const name = signsIn ? who.mail! : person;
    // Whoever is meant hears that there is another device.
    if (!(await released().listensFor({ person: name, heard: '', device })))
      throw new Refused(422, 'Say who uses this device, to be told what is for them.');
    await this.web.add({ person: name, subscription, ...(signsIn && { session }) });
  }

  notice(notice: KeptMessage): void {
    this.web.tell(noteOf(notice), notice.to);
  }

  /** By people, what is asked of them. */
  asks(of: Readonly<Record<string, readonly OpenQuestion[]>>): void {
    for (const [person, questions] of Object.entries(of))
      for (const { key, question, at } of questions)
        this.web.tell({ id: `asks ${key}`, title: question.words, words: 'Press to answer', at }, [person]);
  }

  async close(): Promise<void> {
    await this.web.close();
    await this.file.close();
  }
}
