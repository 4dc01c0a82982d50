/** Texts as each file format wants them: whatever a name holds, the file stays well formed and the name stays what it is as far as the format can say. */

/** Characters that XML 1.0 knows no way to write, halves of pairs among them (section 2.2, production 2). */
const NO_XML = /[^\t\n\r\u{20}-\u{d7ff}\u{e000}-\u{fffd}\u{10000}-\u{10ffff}]/gu;

/** The marks that XML has names for, and HTML as well. */
const NAMED: Readonly<Record<string, string | undefined>> = { '<': '&lt;', '>': '&gt;', '&': '&amp;', '"': '&quot;' };

/** Content or an attribute's value of XML; what XML can't hold becomes the replacement character. */
export const xmlText = (text: string): string =>
  text.replace(NO_XML, '\u{fffd}').replace(/[<>&"'\t\n\r]/g, (c) => NAMED[c] ?? `&#${c.charCodeAt(0)};`);

/** One line of a text file: what breaks or hides a line becomes a space. */
export const lineText = (text: string): string => text.replace(/[\p{Cc}\p{Zl}\p{Zp}\p{Cs}]+/gu, ' ').trim();

/** A line of plain ASCII, for headers that know nothing else. */
export const asciiText = (text: string): string => lineText(text).replace(/[^\x20-\x7e]/gu, '?');

const hex = (n: number, digits: number): string => n.toString(16).toUpperCase().padStart(digits, '0');

/** A string of an exchange structure, without its quotes (ISO 10303-21, section 6.4.3): quotes and backslashes doubled, other characters by their code. */
export function stepText(text: string): string {
  let out = '';
  for (const c of text) {
    const code = c.codePointAt(0)!;
    if (c === "'" || c === '\\') out += c + c;
    else if (code >= 0x20 && code <= 0x7e) out += c;
    else if (code <= 0xff) out += `\\X\\${hex(code, 2)}`;
    else if (code <= 0xffff) out += `\\X2\\${hex(code, 4)}\\X0\\`;
    else out += `\\X4\\${hex(code, 8)}\\X0\\`;
  }
  return out;
}
