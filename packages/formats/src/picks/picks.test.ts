import { describe, expect, it } from 'vitest';
import { imageKey, readPicks } from '.';
import { readDistances } from '../distances';

const bytes = (text: string) => new TextEncoder().encode(text);
const place = (at: string) => expect.objectContaining({ place: at }) as Error;

describe('picks', () => {
  it('have a deviation where the list gives one', () => {
    const list = readPicks(
      bytes('# a comment\nimage,point,x_px,y_px,sd_px\nA.JPG,C1,10.5,20,0.3\nb.jpg,C1,1,2,\n'),
      'p.csv',
    );
    expect(list).toEqual([
      { image: 'A.JPG', point: 'C1', xPx: 10.5, yPx: 20, sdPx: 0.3 },
      { image: 'b.jpg', point: 'C1', xPx: 1, yPx: 2 },
    ]);
  });

  it('are of the same photograph whatever its folder and case', () => {
    expect(imageKey('D:\\cards\\1\\A.JPG')).toBe(imageKey('photos/a.jpg'));
    const text = 'image,point,x_px,y_px\nx/A.JPG,C1,1,2\na.jpg,C1,3,4\n';
    expect(() => readPicks(bytes(text), 'p.csv')).toThrow(/a second time; the first is in line 2/);
  });

  it.each([
    [',C1,1,2,', 'line 2, column image'],
    ['a,,1,2,', 'line 2, column point'],
    ['a,C1,left,2,', 'line 2, column x_px'],
    ['a,C1,1,1e9,', 'line 2, column y_px'],
    ['a,C1,1,2,-1', 'line 2, column sd_px'],
  ])('refuse %s', (line, at) => {
    expect(() => readPicks(bytes(`image,point,x_px,y_px,sd_px\n${line}\n`), 'p.csv')).toThrow(place(at));
  });
});

describe('known distances', () => {
  it('keep their unit, and are metres besides', () => {
    const list = readDistances(
      bytes(
        'from,to,value_m,value_ft,value_ftUS,sd_m,use\na,b,2.4,,,0.001,scale\nc,d,,3,,0.002,check\ne,f,,,10000,0.5,check\n',
      ),
      'd.csv',
    );
    expect(list.map((d) => [d.unit, d.given])).toEqual([
      ['metre', 2.4],
      ['foot', 3],
      ['usSurveyFoot', 10000],
    ]);
    expect(list[1].valueM).toBeCloseTo(0.9144, 12);
    expect(list[2].valueM).toBeCloseTo(3048.00609601219, 9);
    expect(list.map((d) => d.use)).toEqual(['scale', 'check', 'check']);
  });

  it.each([
    ['a,a,1,,0.1,scale', 'line 2, column to'],
    ['a,b,1,2,0.1,scale', 'line 2, column value_ft'],
    ['a,b,-1,,0.1,scale', 'line 2, column value_m'],
    ['a,b,1,,2,scale', 'line 2, column sd_m'],
    ['a,b,1,,0.1,maybe', 'line 2, column use'],
  ])('refuse %s', (line, at) => {
    expect(() => readDistances(bytes(`from,to,value_m,value_ft,sd_m,use\n${line}\n`), 'd.csv')).toThrow(place(at));
  });

  it('name a column that is missing', () => {
    expect(() => readDistances(bytes('from,to,sd_m,use\n'), 'd.csv')).toThrow(/column value_m is missing/);
  });
});
