/**
 * Work done beside the page in a worker that may die, hang or be given up: whatever happens, an answer comes, in words where there is no result, and
 * the next work begins in a new worker.
 */
import * as Comlink from 'comlink';
import { fail, ok, type Result, wordsOf } from '../core/result';
import { hasLeft, untilLeft } from './leaving';

export type HelperWorker = Pick<Worker, 'terminate' | 'addEventListener'>;

/** Why there is no result. */
export interface Unanswered {
  readonly because: 'stopped' | 'died' | 'late' | 'threw';
  readonly words: string;
}

export interface HelperLimits {
  /** Longest that one piece of work may take, s. */
  readonly seconds: number;
  /** Idle time after which the worker is let go of, s; 0 ends it with its work, left out it stays. */
  readonly idle?: number;
}

interface Live<Api> {
  readonly worker: HelperWorker;
  readonly api: Comlink.Remote<Api>;
  readonly ended: Promise<Unanswered>;
  readonly tellEnd: (u: Unanswered) => void;
  readonly stay: () => void;
  busy: number;
  timer?: ReturnType<typeof setTimeout>;
}

export class Helper<Api> {
  private live: Live<Api> | null = null;

  /** @param what what does the work, as the beginning of a sentence @param wrap how the worker is spoken to; played in tests */
  constructor(
    private readonly start: () => HelperWorker,
    private readonly what: string,
    private readonly limits: HelperLimits,
    private readonly wrap: (w: HelperWorker) => Comlink.Remote<Api> = (w) => Comlink.wrap<Api>(w as Worker),
  ) {}

  /** @param seconds this piece may take, where that differs */
  async ask<T>(work: (api: Comlink.Remote<Api>) => Promise<T>, seconds = this.limits.seconds): Promise<Result<T, Unanswered>> {
    if (hasLeft()) return fail(this.stopped());
    const mine = this.live ?? this.begin();
    clearTimeout(mine.timer);
    mine.busy++;
    const limit = setTimeout(
      () => this.end(mine, { because: 'late', words: `${this.what} took longer than ${Math.round(seconds)} s` }),
      1000 * seconds,
    );
    try {
      const done = work(mine.api).then(
        (value) => ok(value),
        (e: unknown) => fail<Unanswered>({ because: 'threw', words: `${this.what} stopped: ${wordsOf(e).slice(0, 200)}` }),
      );
      return await Promise.race([done, mine.ended.then((u) => fail(u))]);
    } finally {
      clearTimeout(limit);
      mine.busy--;
      if (mine.busy === 0 && this.live === mine && this.limits.idle !== undefined) {
        if (this.limits.idle === 0) this.stop();
        else mine.timer = setTimeout(() => this.stop(), 1000 * this.limits.idle);
      }
    }
  }

  /** Whether anything is being worked on. */
  get busy(): boolean {
    return (this.live?.busy ?? 0) > 0;
  }

  /** Gives up what runs, at once: what waits for it is told so. */
  stop(): void {
    if (this.live) this.end(this.live, this.stopped());
  }

  private stopped(): Unanswered {
    return { because: 'stopped', words: `${this.what} was stopped` };
  }

  private begin(): Live<Api> {
    const worker = this.start();
    let tellEnd: (u: Unanswered) => void = () => {};
    const ended = new Promise<Unanswered>((resolve) => {
      tellEnd = resolve;
    });
    const mine: Live<Api> = { worker, api: this.wrap(worker), ended, tellEnd, stay: untilLeft(() => this.stop()), busy: 0 };
    // A worker that throws, or whose file can't be fetched, answers nothing any more.
    worker.addEventListener('error', () => this.end(mine, { because: 'died', words: `${this.what} stopped` }));
    this.live = mine;
    return mine;
  }

  private end(mine: Live<Api>, why: Unanswered): void {
    clearTimeout(mine.timer);
    mine.stay();
    mine.worker.terminate();
    mine.tellEnd(why);
    if (this.live === mine) this.live = null;
  }
}
