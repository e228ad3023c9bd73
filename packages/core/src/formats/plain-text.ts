/**
 * A text from a file as a name for people: control characters and halves of surrogate pairs left out, white space made
 * single, cut after `most` characters (whole ones).
 */
export function plainText(text: string, most = 120): string {
  const kept: string[] = [];
  // by characters, so that none is cut in two; what is far longer is not gone through
  for (const c of text.slice(0, most * 8)) {
    const code = c.codePointAt(0)!;
    if (code < 32 || code === 127) kept.push(' ');
    else if (code < 0xd800 || code > 0xdfff) kept.push(c);
  }
  return [...kept.join('').replace(/\s+/g, ' ').trim()].slice(0, most).join('').trim();
}

/** Whether a text can be kept and shown as it is: no control character but tab and line ends, no half of a surrogate pair. */
export function isPlainText(text: string): boolean {
  for (const c of text) {
    const code = c.codePointAt(0)!;
    if ((code < 32 && code !== 9 && code !== 10 && code !== 13) || code === 127) return false;
    if (code >= 0xd800 && code <= 0xdfff) return false;
  }
  return true;
}
