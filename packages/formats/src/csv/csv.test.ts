import { describe, expect, it } from 'vitest';
import { columnsOf, csvCell, decodeText, readDecimal, splitCsv, type ColumnLayout } from '.';

const bytes = (text: string) => new TextEncoder().encode(text);

/** A layout of two columns of numbers, time and height, and one of words. */
function layout(rows = 10) {
  const [time, height] = [new Float64Array(rows), new Float64Array(rows)];
  const wanted: ColumnLayout = {
    code: 'test',
    required: ['t', 'h'],
    target: (name) =>
      name === 't' ? { into: time, from: 0, step: 1 } : name === 'h' ? { into: height, from: 0, step: 1 } : undefined,
    words: { name: 'kind', of: (word) => ({ fixed: 1, float: 2 })[word] ?? 0 },
    missing: 'Give both columns.',
    empty: 'There is no row.',
  };
  return { time, height, wanted };
}

describe('columns of numbers', () => {
  it('are the same however the text is cut into pieces, with any line ends', async () => {
    const text = '# crs: EPSG:4937\r\n\r\nt,h,kind\r1,10.5,fixed\n2,-3e-2,float\r\n3,,other\n';
    for (const piece of [1, 2, 3, 7, 1000]) {
      const { time, height, wanted } = layout();
      const rows = await columnsOf(bytes(text), 'x.csv', wanted, piece);
      expect([rows.count, [...time.subarray(0, 3)], [...height.subarray(0, 2)]]).toEqual([3, [1, 2, 3], [10.5, -0.03]]);
      expect(height[2]).toBeNaN();
      expect([...rows.words!.subarray(0, 3)]).toEqual([1, 2, 0]);
      expect(rows.comments.get('crs')).toBe('EPSG:4937');
      expect([...rows.lines.subarray(0, 3)]).toEqual([4, 5, 6]);
    }
  });

  it('name the column and the line of what is no number', async () => {
    const { wanted } = layout();
    await expect(columnsOf(bytes('t,h\n1,2\n2,high\n3,4\n'), 'x.csv', wanted)).rejects.toMatchObject({
      message: expect.stringContaining('high'),
      place: expect.stringMatching(/line 3/),
      file: 'x.csv',
    });
    await expect(columnsOf(bytes('t,height\n1,2\n'), 'x.csv', layout().wanted)).rejects.toThrow(/column h is missing/);
  });

  it('in UTF-16 and with a byte order mark are read; binary data are refused by their byte', async () => {
    const text = 't,h\n1,2\n';
    const wide = new Uint8Array(2 + 2 * text.length);
    wide.set([0xff, 0xfe]);
    [...text].forEach((c, i) => (wide[2 + 2 * i] = c.charCodeAt(0)));
    const first = layout();
    expect((await columnsOf(wide, 'x.csv', first.wanted)).count).toBe(1);
    const marked = layout();
    expect((await columnsOf(bytes(`\uFEFF${text}`), 'x.csv', marked.wanted)).count).toBe(1);
    expect([first.time[0], marked.height[0]]).toEqual([1, 2]);
    await expect(columnsOf(bytes('t,h\n1,\0\n'), 'x.csv', layout().wanted)).rejects.toMatchObject({ place: 'byte 6' });
  });
});

describe('a decimal in a text', () => {
  it.each(['0', '-0.5', '12345678.123456789', '1e3', '-2.5E-7', '.5', '6215020.4001', '0.000000000012345', '+7'])(
    '%s is what the language reads, to the last bit',
    (text) => {
      expect(readDecimal(`x,${text},y`, 2, 2 + text.length)).toBe(Number(text));
    },
  );

  it.each(['high', '1.2.3', '--1', '1e', '0x10', '1 2'])('%s is none', (text) => {
    expect(readDecimal(text, 0, text.length)).toBeNaN();
  });

  it('agrees with the language on a thousand numbers of any size', () => {
    let seed = 7;
    const random = () => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32;
    for (let k = 0; k < 1000; k++) {
      const text = ((random() - 0.5) * 10 ** Math.floor(random() * 12)).toFixed(Math.floor(random() * 10));
      expect(readDecimal(text, 0, text.length)).toBe(Number(text));
    }
  });
});

describe('a small table', () => {
  it('has its comments by name, its header and the lines of its rows', () => {
    const table = splitCsv('# Source: drive\r\n#nothing\rname, h\n\nA,1\rB,2\r\n', 'x.csv');
    expect(table).toEqual({
      comments: new Map([['source', 'drive']]),
      header: ['name', 'h'],
      lineNumbers: [5, 6],
      rows: ['A,1', 'B,2'],
    });
    expect(() => splitCsv('# only: comments\n', 'x.csv')).toThrow(/no header line/);
  });

  it('writes cells that no program takes for a formula', () => {
    expect(['plain', 'a,b', 'say "so"', '=1+1', '-5', '+x', '@x'].map(csvCell)).toEqual([
      'plain',
      '"a,b"',
      '"say ""so"""',
      "'=1+1",
      "'-5",
      "'+x",
      "'@x",
    ]);
    expect([csvCell(-1.5), csvCell(Number.NaN), csvCell(undefined)]).toEqual(['-1.5', '', '']);
  });
});

describe('the writing of a text', () => {
  it('is found by its first bytes; old spreadsheets are understood', () => {
    expect(decodeText(bytes('Mühle'), 'x')).toBe('Mühle');
    expect(decodeText(Uint8Array.of(0x4d, 0xfc, 0x68), 'x')).toBe('Müh');
    expect(decodeText(Uint8Array.of(0xfe, 0xff, 0, 0x41), 'x')).toBe('A');
    expect(() => decodeText(Uint8Array.of(0x41, 0), 'x')).toThrow(/binary data/);
  });
});
