import { Problem } from '@longheron/core/shared';

/** An object of well-known text: `KEYWORD[…]`, its values in order. */
export interface WktNode {
  keyword: string;
  values: Array<string | number | WktNode>;
  /** Where it begins, characters from the start of the text. */
  at: number;
}

const MAX_DEPTH = 32;
const MAX_LENGTH = 1 << 18;

/**
 * Parses well-known text (OGC 01-009 and ISO 19162): either kind of bracket, quotes doubled inside quotes. Bare words
 * such as `EAST` are texts. @throws Problem that names the file and the place.
 */
export function parseWkt(text: string, file: string): WktNode {
  if (text.length > MAX_LENGTH)
    throw new Problem('This is far longer than the text of a coordinate system.', {
      code: 'wkt',
      file,
      remedy: 'Give a file with one system as WKT.',
    });
  let at = 0;
  const fail = (what: string): never => {
    throw new Problem(`${what} at character ${at + 1}: not the text of a coordinate system.`, {
      code: 'wkt',
      file,
      place: `character ${at + 1}`,
      remedy: 'Give the system as WKT 1 or WKT 2, as other programs write it.',
    });
  };
  const space = () => {
    while (at < text.length && /[\s\uFEFF]/.test(text[at])) at++;
  };
  const quoted = (): string => {
    const from = at++;
    let out = '';
    for (;;) {
      if (at >= text.length) {
        at = from;
        fail('A quotation mark is not closed');
      }
      if (text[at] !== '"') out += text[at++];
      else if (text[at + 1] === '"') {
        out += '"';
        at += 2;
      } else {
        at++;
        return out;
      }
    }
  };
  const value = (depth: number): string | number | WktNode => {
    space();
    if (text[at] === '"') return quoted();
    const number = /^[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?/.exec(text.slice(at, at + 64));
    if (number) {
      at += number[0].length;
      return Number(number[0]);
    }
    const word = /^[A-Za-z_][\w.:-]*/.exec(text.slice(at, at + 128));
    if (!word) return fail(at < text.length ? `“${text[at]}” is not expected` : 'The text ends');
    const node: WktNode = { keyword: word[0].toUpperCase(), values: [], at };
    at += word[0].length;
    space();
    const close = { '[': ']', '(': ')' }[text[at] ?? ''];
    if (!close) return word[0];
    if (depth >= MAX_DEPTH) fail('It is nested too deeply');
    do {
      at++;
      node.values.push(value(depth + 1));
      space();
    } while (text[at] === ',');
    if (text[at] !== close) fail(at < text.length ? `“${text[at]}” is not expected` : 'The text ends');
    at++;
    return node;
  };
  const root = value(0);
  space();
  if (typeof root !== 'object' || at < text.length) fail('The system does not end where it should');
  return root as WktNode;
}

const isNode = (v: WktNode['values'][number]): v is WktNode => typeof v === 'object';

/** The children of these keywords. */
export const childrenOf = (node: WktNode, ...keywords: string[]): WktNode[] =>
  node.values.filter(isNode).filter((v) => keywords.includes(v.keyword));

/** The first child of these keywords. */
export const childOf = (node: WktNode | undefined, ...keywords: string[]): WktNode | undefined =>
  node && childrenOf(node, ...keywords)[0];

/** The name: the first text. */
export const nameOf = (node: WktNode | undefined): string => {
  const first = node?.values[0];
  return typeof first === 'string' ? first : '';
};

/** The value at a place when it is a number. */
export const numberAt = (node: WktNode | undefined, index: number): number => {
  const v = node?.values[index];
  return typeof v === 'number' ? v : Number.NaN;
};

/** The EPSG code of an object, by AUTHORITY or ID. */
export function codeOf(node: WktNode | undefined): number | undefined {
  const id = node && childrenOf(node, 'AUTHORITY', 'ID').find((v) => /^epsg$/i.test(nameOf(v)));
  const code = Number(id?.values[1]);
  return Number.isInteger(code) && code > 0 ? code : undefined;
}

/** Whether bytes begin as well-known text of a coordinate system does. */
export function isWkt(bytes: Uint8Array): boolean {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 256)).replace(/^(\xEF\xBB\xBF)?\s*/, '');
  return /^(PROJCS|PROJCRS|PROJECTEDCRS|DERIVEDPROJCRS|COMPD_CS|COMPOUNDCRS|VERT_CS|VERTCRS|VERTICALCRS|BOUNDCRS|GEOGCS|GEOGCRS|GEODCRS|GEODETICCRS|GEOGRAPHICCRS|LOCAL_CS|ENGCRS|ENGINEERINGCRS|GEOCCS)\s*[[(]/i.test(
    head,
  );
}
