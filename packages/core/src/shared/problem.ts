/**
 * The error of the whole product: it names what went wrong, where, and what the person can do about it.
 * Formats, the command line and the server all raise and print this one type.
 */
export interface ProblemDetails {
  /** Short stable code in kebab case, for example `las-truncated`. */
  code: string;
  /** File or dataset it concerns. */
  file?: string;
  /** Place in the file: a line, a byte, a record. */
  place?: string;
  /** What to do next, one sentence. */
  remedy?: string;
  /** The same in the words of the command line, where they differ; `remedy` speaks to the screen. */
  command?: string;
}

/** An error with a code, a file, a place and a remedy. */
export class Problem extends Error {
  readonly code: string;
  readonly file?: string;
  readonly place?: string;
  readonly remedy?: string;
  readonly command?: string;

  constructor(message: string, details: ProblemDetails) {
    super(message);
    this.name = 'Problem';
    this.code = details.code;
    this.file = details.file;
    this.place = details.place;
    this.remedy = details.remedy;
    this.command = details.command;
  }

  /** The whole message in one line of the command line: file, place, what happened, remedy. */
  describe(): string {
    const where = [this.file, this.place].filter(Boolean).join(', ');
    const remedy = this.command ?? this.remedy;
    return `${where ? `${where}: ` : ''}${this.message}${remedy ? ` ${remedy}` : ''}`;
  }
}

export type NoticeSeverity = 'info' | 'warning' | 'error';

/** A finding: what was seen, what it does to the result, what can be done. */
export interface Notice {
  code: string;
  severity: NoticeSeverity;
  text: string;
  /** What it does to the result. */
  effect?: string;
  /** What the person can do. */
  remedy?: string;
  /** The same in the words of the command line, where they differ; `remedy` speaks to the screen. */
  command?: string;
  file?: string;
  place?: string;
}

/** A notice for the command line: its remedy in the words of that. */
export function forCommandLine({ command, ...notice }: Notice): Notice {
  return command ? { ...notice, remedy: command } : notice;
}
