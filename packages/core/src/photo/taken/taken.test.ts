import { describe, expect, it } from 'vitest';
import { doubtsOf, groupPhotographs, sessionsOf, type TakenPhoto } from '.';

const photo = (name: string, more: Partial<TakenPhoto> = {}): TakenPhoto => ({
  name,
  bytes: 1000 + Number(/\d+/.exec(name)?.[0] ?? 0),
  widthPx: 6000,
  heightPx: 4000,
  takenS: 1_781_600_000 + Number(/\d+/.exec(name)?.[0] ?? 0),
  camera: 'body',
  serial: 'A',
  lens: '',
  lensSerial: '',
  focalMm: 35,
  focalPx: null,
  orientation: 1,
  place: null,
  ...more,
});
const row = (from: number, to: number, more: Partial<TakenPhoto> = {}) =>
  Array.from({ length: to - from + 1 }, (_, k) => photo(`a_${String(from + k).padStart(3, '0')}.jpg`, more));

describe('photographs that came together', () => {
  it('are grouped by body, lens, focal length and size', () => {
    const list = [
      ...row(1, 5),
      ...row(6, 8, { serial: 'B' }),
      ...row(9, 10, { focalMm: 50 }),
      ...row(11, 11, { focalMm: 35.01 }),
    ];
    const groups = groupPhotographs(list);
    expect(groups.map((g) => [g.serial, g.focalMm, g.names.length])).toEqual([
      ['A', 35, 6],
      ['B', 35, 3],
      ['A', 50, 2],
    ]);
    expect([groups[0].firstS, groups[0].lastS]).toEqual([1_781_600_001, 1_781_600_011]);
  });

  it('in good order leave no doubt', () => {
    expect(doubtsOf(row(1, 40))).toEqual({
      twice: [],
      copies: [],
      missing: [],
      small: [],
      samePlace: false,
      daysS: [1_781_568_000],
      turned: [],
      silent: [],
    });
  });

  it('show what is missing, doubled, a preview, turned, silent, of another day, or never moved', () => {
    const place = { latDeg: 56, lonDeg: 8 };
    const list = [
      ...row(1, 12, { place }).filter((p) => !/00[45]/.test(p.name)),
      photo('A_003.JPG', { place }),
      photo('copy of 7.jpg', { takenS: 1_781_600_007, bytes: 1007, place }),
      photo('a_013.jpg', { widthPx: 160, heightPx: 120, place }),
      photo('a_014.jpg', { orientation: 6, takenS: 1_781_600_000 + 86_400, place }),
      photo('a_015.jpg', { takenS: null, camera: '', serial: '', place }),
    ];
    expect(doubtsOf(list)).toMatchObject({
      twice: ['A_003.JPG'],
      missing: ['a_004.jpg', 'a_005.jpg'],
      copies: [
        ['a_003.jpg', 'A_003.JPG'],
        ['a_007.jpg', 'copy of 7.jpg'],
      ],
      small: ['a_013.jpg'],
      turned: ['a_014.jpg'],
      silent: ['a_015.jpg'],
      samePlace: true,
      daysS: [1_781_568_000, 1_781_654_400],
    });
    // a counter that begins anew is no gap
    expect(doubtsOf([...row(997, 999), ...row(1, 3)]).missing).toEqual([]);
  });
});

describe('sessions', () => {
  const at = (name: string, takenS: number | null, serial = '1') => ({ name, takenS, camera: 'air', serial });
  const names = (list: ReturnType<typeof at>[]) => sessionsOf(list).map((s) => s.photos.map((p) => p.name).join(' '));

  it('end where more than a quarter of an hour passes, in whatever order photographs come', () => {
    const list = [at('c', 5000), at('a', 0), at('b', 900), at('d', 5001), at('e', 5902)];
    expect(names(list)).toEqual(['a b', 'c d', 'e']);
    expect(sessionsOf(list)[0]).toMatchObject({ firstS: 0, lastS: 900 });
  });

  it('end where another body is carried, but not where two take turns', () => {
    expect(names([at('a', 0), at('b', 60), at('c', 120, '2'), at('d', 180, '2')])).toEqual(['a b', 'c d']);
    expect(names([at('a', 0), at('b', 1, '2'), at('c', 60), at('d', 61, '2')])).toEqual(['a b c d']);
    expect(names([at('a', 0), at('b', 1, '2'), at('c', 2000, '2'), at('d', 2060)])).toEqual(['a', 'b', 'c', 'd']);
  });

  it('take photographs without a time by their names; where none has one there is one session', () => {
    expect(names([at('a1', 0), at('a2', null), at('b1', 9000), at('b2', null)])).toEqual(['a1 a2', 'b1 b2']);
    expect(names([at('a0', null), at('a1', 0), at('b1', 9000)])).toEqual(['a1 a0', 'b1']);
    expect(sessionsOf([at('x', null), at('y', null)])).toMatchObject([{ firstS: null, lastS: null }]);
    expect(sessionsOf([])).toEqual([]);
  });
});
