/** Lengths of time as workshops say them. */
import { fail, ok, type Result } from '../result';

/** `12 min`, `3 h 05`. */
export function timeWords(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`;
}

/** A time as it was typed: `2 h 10`, `2:10`, `130 min`, or minutes alone. @returns s */
export function timeFrom(text: string): Result<number> {
  const t = text.trim().replace(',', '.');
  const hours = /^(\d+(?:\.\d+)?)\s*h(?:\s*(\d+)(?:\s*min)?)?$/.exec(t) ?? /^(\d+):([0-5]\d)$/.exec(t);
  const minutes = /^(\d+(?:\.\d+)?)(?:\s*min)?$/.exec(t);
  const seconds = hours ? 3600 * Number(hours[1]) + 60 * Number(hours[2] ?? 0) : minutes ? 60 * Number(minutes[1]) : Number.NaN;
  return seconds > 0 && seconds <= 3600 * 1000 ? ok(seconds) : fail(`“${text.trim()}” is no time: 2 h 10, or minutes`);
}
