/** An error meant for a person: what happened, where, and what to do. `code` is stable and can be tested for. */
export class GephyraError extends Error {
  readonly code: string;
  /** Machine-readable particulars, e.g. the byte or line, or how many triangles a truncated file still holds. */
  readonly details: Readonly<Record<string, string | number | boolean>>;

  constructor(code: string, message: string, details: Record<string, string | number | boolean> = {}) {
    super(message);
    this.name = 'GephyraError';
    this.code = code;
    this.details = details;
  }
}
