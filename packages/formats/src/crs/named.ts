import { type GridName } from '@longheron/core/frames';

/** The file that defines plan in a WKT or citation of ours; undefined when it names none. */
export function systemFileNamed(text: string): GridName | undefined {
  const match = /defined by ([\w.-]+)@([0-9a-f]{12})/.exec(text);
  return match ? { name: match[1], sha12: match[2] } : undefined;
}

/** The grid or file that heights refer to in a WKT or citation of ours; undefined when it names none. */
export function gridNamed(text: string): GridName | undefined {
  const match = /(?:geoid|heights of) ([\w.-]+)@([0-9a-f]{12})/.exec(text);
  return match ? { name: match[1], sha12: match[2] } : undefined;
}

/** The grid by which plan is shifted in a WKT of ours; undefined when it names none. */
export function shiftGridNamed(text: string): GridName | undefined {
  const match = /shifted by ([\w.-]+)@([0-9a-f]{12})/.exec(text);
  return match ? { name: match[1], sha12: match[2] } : undefined;
}
