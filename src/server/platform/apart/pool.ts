import { fork, type ChildProcess } from 'node:child_process';
import { configuration } from '../configuration';
import { oncePerProcess } from '../process';
import { programOf } from '../programs';
import { IntakeError, isOf, Refusal } from '../refusal';
import type { Input, Output, Told, WorkName } from './contract';
import { harmlessEnvironment } from './surroundings';

/**
 * Work that ended the process it was done in, or was ended because it took too long or too much
 * memory.
 */
export class WorkEnded extends Error {
  override name = 'WorkEnded';
  static override [Symbol.hasInstance](this: unknown, value: unknown): boolean {
    return isOf(this, WorkEnded, 'WorkEnded', value);
  }
  constructor(readonly why: 'time' | 'memory' | 'died') {
    super(
      {
        time: 'took too long',
        memory: 'took too much memory',
        died: 'ended the process it was done in',
      }[why],
    );
  }
}

interface LaneOptions {
  /** Processes at most. */
  size: number;
  /** Work that waits for one at most; more is refused at once. */
  waiting: number;
  /** Memory of one process, in MB: of its JavaScript, and of everything together. */
  heapMb: number;
  wholeMb: number;
  /** An idle process is kept, since starting another one would make the next request wait. */
  kept?: boolean;
  /** It gets the key and the database; without them it sees only what it is sent. */
  trusted?: boolean;
}

/**
 * Processes of one kind, started when they are needed and ended when they have rested for a while.
 */
export class Lane {
  private readonly idle: Child[] = [];
  private count = 0;
  private readonly queue: (() => void)[] = [];

  constructor(private readonly options: LaneOptions) {}

  /**
   * Runs a piece of work in a process of its own.
   * @param limit in ms, from when a process has accepted it
   * @throws whatever the work throws, a `WorkEnded`, or a Refusal (503) if too much is waiting
   *   already
   */
  async do<W extends WorkName>(work: W, input: Input<W>, limit: number): Promise<Output<W>> {
    const child = await this.take();
    try {
      return await child.do(work, input, limit);
    } finally {
      this.give(child);
    }
  }

  /** Starts a process in advance. */
  warm(): void {
    if (this.count > 0) return;
    this.count++;
    this.give(new Child(this.options));
  }

  private async take(): Promise<Child> {
    for (;;) {
      const child = this.idle.pop();
      if (child?.alive) return child.rest(false);
      if (child) this.count--;
      else if (this.count < this.options.size) {
        this.count++;
        return new Child(this.options);
      } else {
        if (this.queue.length >= this.options.waiting)
          throw new Refusal('Hand Stamp is busy at the moment. Try again in a few seconds.', 503);
        await new Promise<void>((resolve) => this.queue.push(resolve));
      }
    }
  }

  private give(child: Child): void {
    if (child.alive) this.idle.push(child.rest(true));
    else this.count--;
    this.queue.shift()?.();
  }
}

/** How long an idle process is kept, in ms. */
const restsFor = 120_000;

class Child {
  private readonly process: ChildProcess;
  private readonly ready: Promise<void>;
  private why: WorkEnded['why'] = 'died';
  private resting: NodeJS.Timeout | undefined;
  private ended = false;

  constructor(private readonly options: LaneOptions) {
    const { heapMb, wholeMb } = options;
    const { file, execArgv } = programOf('src/server/tasks/child');
    this.process = fork(file, [], {
      execArgv: [`--max-old-space-size=${heapMb}`, ...execArgv],
      serialization: 'advanced',
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      env: {
        ...(options.trusted ? process.env : harmlessEnvironment()),
        NODE_OPTIONS: '',
        HAND_STAMP_APART_MB: String(wholeMb),
      },
    });
    this.ready = new Promise((resolve, reject) => {
      this.process.once('message', () => resolve());
      this.process.once('exit', (_, signal) => {
        this.ended = true;
        // the heap's own limit ends a process with SIGABRT
        if (signal === 'SIGUSR2' || signal === 'SIGABRT') this.why = 'memory';
        reject(new WorkEnded(this.why));
      });
      this.process.once('error', (error) => {
        this.ended = true;
        reject(error);
      });
    });
    this.ready.catch(() => undefined);
    this.hold(false);
  }

  /** Whether work can be given to it. */
  get alive(): boolean {
    return !this.ended && this.process.connected;
  }

  async do<W extends WorkName>(work: W, input: Input<W>, limit: number): Promise<Output<W>> {
    this.hold(true);
    try {
      await this.ready;
      return await new Promise<Output<W>>((resolve, reject) => {
        const timer = setTimeout(() => {
          this.why = 'time';
          this.process.kill('SIGKILL');
        }, limit);
        const ended = () => done(() => reject(new WorkEnded(this.why)));
        const hear = (told: Told) =>
          done(() => {
            if ('failed' in told) reject(madeAgain(told.failed));
            else resolve(('done' in told ? told.done : undefined) as Output<W>);
          });
        const done = (settle: () => void) => {
          clearTimeout(timer);
          this.process.off('message', hear);
          this.process.off('exit', ended);
          settle();
        };
        this.process.on('message', hear);
        this.process.on('exit', ended);
        this.process.send({ work, input }, (error) => error && ended());
      });
    } finally {
      this.hold(false);
    }
  }

  rest(on: boolean): this {
    clearTimeout(this.resting);
    if (on && !this.options.kept)
      this.resting = setTimeout(() => this.process.disconnect(), restsFor).unref();
    return this;
  }

  /** An idle child does not keep this process alive. */
  private hold(on: boolean): void {
    const channel = this.process.channel;
    if (on) {
      this.process.ref();
      channel?.ref();
    } else {
      this.process.unref();
      channel?.unref();
    }
  }
}

function madeAgain({
  name,
  message,
  status,
  code,
}: Extract<Told, { failed: unknown }>['failed']): Error {
  if (name === 'IntakeError') return new IntakeError(message);
  if (name === 'Refusal') return new Refusal(message, status);
  return Object.assign(new Error(message), { name, code });
}

/** Memory of one task, in MB; files of the most records that are taken stay well below it. */
const taskMb = configuration().HAND_STAMP_TASK_MB ?? 3072;

/**
 * Child processes: one for tasks, one for pictures from people who are signed in, one for
 * strangers. Short work never waits for long work, nor our people for strangers.
 */
export const lanes = oncePerProcess('platform.lanes', () => ({
  tasks: new Lane({
    size: 1,
    waiting: 100,
    heapMb: Math.round(taskMb * 0.7),
    wholeMb: taskMb,
    trusted: true,
  }),
  pictures: new Lane({ size: 1, waiting: 60, heapMb: 512, wholeMb: 1024 }),
  // it opens no files from outside, and signs what it draws with the key
  strangers: new Lane({
    size: 1,
    waiting: 200,
    heapMb: 512,
    wholeMb: 1024,
    kept: true,
    trusted: true,
  }),
}));
