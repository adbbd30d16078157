import { describe, expect, it } from 'vitest';
import { doubtsOf, groupPhotographs, type TakenPhoto } from '.';

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
