/**
 * A text from a file as a name for people: control characters and halves of surrogate pairs left out, white space made
 * single, and no longer than `most` (UTF-16 units, as JavaScript counts), cut between characters.
 */
export function plainText(text: string, most = 120): string {
  // what is far longer than it may be is not gone through
  const words = cleanText(text.slice(0, most * 8))
    .replace(/\s+/g, ' ')
    .trim();
  let out = '';
  for (const c of words) {
    if (out.length + c.length > most) break;
    out += c;
  }
  return out.trim();
}

/** The text without what cannot be kept: control characters become blanks, halves of surrogate pairs go. */
export function cleanText(text: string): string {
  if (isPlainText(text)) return text;
  let out = '';
  for (const c of text) {
    if (isPlain(c)) out += c;
    else if (c < ' ' || c === '\u007f') out += ' ';
  }
  return out;
}

/** Whether a text can be kept and shown as it is: no control character but tab and line ends, no half of a surrogate pair. */
export function isPlainText(text: string): boolean {
  for (const c of text) if (!isPlain(c)) return false;
  return true;
}

function isPlain(character: string): boolean {
  const code = character.codePointAt(0)!;
  if (code < 32) return code === 9 || code === 10 || code === 13;
  return code !== 127 && (code < 0xd800 || code > 0xdfff);
}
