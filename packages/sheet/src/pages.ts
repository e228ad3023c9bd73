import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

export const PAPERS = ['A4', 'LETTER'] as const;
export type Paper = (typeof PAPERS)[number];

const INK = '#1d2a33';
const SOFT = '#5d6970';
const RULE = '#cdbfa6';
const MARGIN = 42;

const require = createRequire(import.meta.url);
const fontFile = (weight: 400 | 700): Buffer =>
  readFileSync(
    require.resolve(
      `@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-${weight}-normal.woff`,
    ),
  );

/** What the sheet's font has: Latin letters, and the marks that its texts use. Others lose their accents, or become “?”. */
function printable(text: string): string {
  const has = (c: string): boolean =>
    /[\n\u0020-\u007e\u00a0-\u00ff\u2013\u2014\u2018\u2019\u201c\u201d\u2026\u2022\u00d7]/.test(c);
  return [...text].map((c) => (has(c) ? c : [...c.normalize('NFKD')].filter(has).join('') || '?')).join('');
}

interface TextLook {
  readonly bold?: boolean;
  readonly soft?: boolean;
  /** pt */
  readonly width?: number;
  readonly right?: boolean;
}

/** Pages that are written from top to bottom. Lengths are points; `y` is where the next thing goes. */
export class Pages {
  y = MARGIN;
  /** between the margins */
  readonly wide: number;
  /** where a page ends, above its foot */
  private readonly bottom: number;
  private readonly chunks: Uint8Array[] = [];
  private readonly ended: Promise<void>;

  private constructor(private readonly doc: PDFKit.PDFDocument) {
    this.ended = new Promise<void>((resolve, reject) => {
      doc.on('data', (c: Uint8Array) => this.chunks.push(c));
      doc.on('end', resolve);
      doc.on('error', reject);
    });
    doc.registerFont('plain', fontFile(400)).registerFont('bold', fontFile(700));
    this.wide = doc.page.width - 2 * MARGIN;
    this.bottom = doc.page.height - MARGIN - 16;
  }

  static async begin(title: string, date: Date, paper: Paper): Promise<Pages> {
    // a large package, which only sheets need
    const { default: PDFDocument } = await import('pdfkit');
    return new Pages(
      new PDFDocument({
        size: paper,
        margin: MARGIN,
        bufferPages: true,
        info: { Title: `${printable(title)}, assembly`, Creator: 'Gephyra', CreationDate: date, ModDate: date },
      }),
    );
  }

  /** Writes a text at so many points from the left margin; how high it stands. */
  words(
    text: string,
    x: number,
    at: number,
    size = 10,
    { bold, soft, width = this.wide, right }: TextLook = {},
  ): number {
    this.doc
      .font(bold ? 'bold' : 'plain')
      .fontSize(size)
      .fillColor(soft ? SOFT : INK);
    const options = { width, align: right ? ('right' as const) : ('left' as const), lineGap: 1 };
    const said = printable(text);
    this.doc.text(said, MARGIN + x, at, options);
    return this.doc.heightOfString(said, options);
  }

  /** How high a text stands in so much width. */
  heightOf(text: string, size: number, width: number): number {
    return this.doc.font('plain').fontSize(size).heightOfString(printable(text), { width, lineGap: 1 });
  }

  rule(at: number): void {
    this.doc
      .moveTo(MARGIN, at)
      .lineTo(MARGIN + this.wide, at)
      .lineWidth(0.7)
      .stroke(RULE);
  }

  /** A box to tick. */
  box(x: number, at: number): void {
    this.doc
      .rect(MARGIN + x, at, 9, 9)
      .lineWidth(0.8)
      .stroke(INK);
  }

  /** A spot of a piece's colour. */
  spot(x: number, at: number, colour: string): void {
    this.doc.rect(MARGIN + x, at, 5, 9).fill(colour);
  }

  /** Begins another page where there is not so much room. */
  room(height: number): void {
    if (this.y + height <= this.bottom) return;
    this.doc.addPage();
    this.y = MARGIN;
  }

  heading(text: string): void {
    this.room(60);
    this.y += 10;
    this.y += this.words(text, 0, this.y, 14, { bold: true }) + 4;
  }

  picture(png: Uint8Array, x: number, at: number, width: number, height: number): void {
    this.doc.image(Buffer.from(png), MARGIN + x, at, { fit: [width, height], align: 'center', valign: 'center' });
  }

  /** Numbers the pages under a name; the bytes of all of them. Rejects with what drawing throws. */
  async finish(name: string): Promise<Uint8Array> {
    const { doc } = this;
    const { count } = doc.bufferedPageRange();
    for (let i = 0; i < count; i++) {
      doc.switchToPage(i);
      // a foot below the margin would begin another page
      doc.page.margins.bottom = 0;
      this.words(`${name}, ${i + 1} of ${count}`, 0, doc.page.height - MARGIN + 8, 8, { soft: true, right: true });
    }
    doc.end();
    await this.ended;
    return Buffer.concat(this.chunks);
  }
}
