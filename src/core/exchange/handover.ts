/** What goes to the maker in one folder: the files, what they are, what was judged, the usual cautions, and sums to check them by. */
import { slug } from '../recipe/file';

export interface HandedFile {
  readonly name: string;
  readonly bytes: Uint8Array;
  /** What it is for, in words. */
  readonly words: string;
}

/** A file's sum by SHA-256 (FIPS 180-4), in hexadecimal digits. */
export async function sha256(bytes: Uint8Array): Promise<string> {
  const sum = await crypto.subtle.digest('SHA-256', bytes.slice());
  return [...new Uint8Array(sum)].map((b) => b.toString(16).padStart(2, '0')).join('');
}

/** Sums in the form that the usual tools check: the sum, two spaces, the name. */
export const sumsText = async (files: readonly HandedFile[]): Promise<string> =>
  (await Promise.all(files.map(async (f) => `${await sha256(f.bytes)}  ${f.name}\n`))).join('');

export interface HandedOver {
  readonly project: string;
  readonly client: string;
  readonly date: string;
  readonly purpose: string;
  readonly process: string;
  readonly material: string;
  readonly bodies: readonly { readonly name: string; readonly words: string }[];
  /** What the brief asks for, with what is read. */
  readonly targets: readonly { readonly label: string; readonly target: string; readonly reading: string; readonly verdict: string }[];
  readonly files: readonly HandedFile[];
  /** What could not be written, and why. */
  readonly missing: readonly { readonly what: string; readonly why: string }[];
  readonly cautions: readonly string[];
}

/** The page that lies on top: plain text, which opens anywhere. */
export function coverText(h: HandedOver): string {
  const part = (title: string, lines: readonly string[]): string[] => (lines.length > 0 ? ['', title, ...lines.map((l) => `  ${l}`)] : []);
  return `${[
    h.client ? `${h.project}, for ${h.client}` : h.project,
    h.date,
    ...part('What it is for', [h.purpose, `made by: ${h.process}; of ${h.material}`].filter(Boolean)),
    ...part(
      'Bodies',
      h.bodies.map((b) => `${b.name}: ${b.words}`),
    ),
    ...part(
      'Against the brief',
      h.targets.map((t) => `${t.label}: ${t.reading}, wanted ${t.target}: ${t.verdict}`),
    ),
    ...part(
      'Files, in millimetres',
      h.files.map((f) => `${f.name}: ${f.words}`),
    ),
    ...part(
      'Not in it',
      h.missing.map((m) => `${m.what}: ${m.why}`),
    ),
    ...part('Cautions', [
      ...h.cautions,
      'The program helps with shape; it certifies nothing. Local codes and licensed practice go before anything here.',
    ]),
  ].join('\n')}\n`;
}

export const handOverName = (project: string): string => `${slug(project)}-hand-over.zip`;
