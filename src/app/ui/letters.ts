import { fail, ok, type Result } from '../../core/result';

/** Takes a text of so many letters. */
export const atMost =
  (most: number) =>
  (text: string): Result<string> =>
    text.length <= most ? ok(text) : fail(`at most ${most} letters`);
