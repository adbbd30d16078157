import { nextTick } from 'vue';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { kept, leaveLook, openLook } from './kept';

/** A server that keeps one look a project. */
const looks = new Map<string, unknown>();
let refuses = false;
const puts: string[] = [];

beforeEach(() => {
  vi.useFakeTimers();
  looks.clear();
  puts.length = 0;
  refuses = false;
  vi.stubGlobal('fetch', async (path: string, { method, body }: { method: string; body?: string }) => {
    if (refuses) throw new TypeError('offline');
    if (method === 'PUT') {
      puts.push(path);
      looks.set(path, JSON.parse(body!).look);
      return new Response(null, { status: 204 });
    }
    return Response.json(looks.get(path) ?? {});
  });
});
afterEach(async () => {
  await leaveLook();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const ONE = '/api/projects/1/look';
const TWO = '/api/projects/2/look';
const classes = kept<number[]>('classes', [7, 18]);
const section = kept<{ widthM: number } | null>('section', null);

describe('what is seen of a project', () => {
  it('is sent once after several changes, only what is not usual, changes within a value too', async () => {
    await openLook(1);
    section.value = { widthM: 2 };
    await nextTick();
    section.value.widthM = 3;
    await nextTick();
    await vi.runAllTimersAsync();
    expect(puts).toEqual([ONE]);
    expect(looks.get(ONE)).toEqual({ section: { widthM: 3 } });
    section.value = null;
    await nextTick();
    await vi.runAllTimersAsync();
    expect(looks.get(ONE)).toEqual({});
  });

  it('is that of each project when another is opened, and is not sent for having been opened', async () => {
    looks.set(TWO, { classes: [2] });
    await openLook(1);
    classes.value.push(5);
    await nextTick();
    // leaving sends at once what was changed last
    await openLook(2);
    expect(looks.get(ONE)).toEqual({ classes: [7, 18, 5] });
    expect(classes.value).toEqual([2]);
    await vi.runAllTimersAsync();
    expect(puts).toEqual([ONE]);
    await openLook(1);
    expect(classes.value).toEqual([7, 18, 5]);
    looks.set(ONE, {});
    await openLook(1);
    // the usual was not changed by what was pushed onto a copy of it
    expect(classes.value).toEqual([7, 18]);
  });

  it('has what the part of the screen kept that is opened later, and loses nothing that no part asked for', async () => {
    looks.set(ONE, { colouring: 'class', ofALaterVersion: 1 });
    await openLook(1);
    section.value = { widthM: 1 };
    await nextTick();
    await vi.runAllTimersAsync();
    expect(looks.get(ONE)).toEqual({ colouring: 'class', ofALaterVersion: 1, section: { widthM: 1 } });
    expect(kept('colouring', 'height').value).toBe('class');
  });

  it('is not written over when it could not be read', async () => {
    looks.set(ONE, { classes: [2] });
    refuses = true;
    await openLook(1);
    refuses = false;
    section.value = { widthM: 4 };
    await nextTick();
    await vi.runAllTimersAsync();
    expect([looks.get(ONE), puts]).toEqual([{ classes: [2] }, []]);
  });

  it('is kept with the next change when the server did not answer', async () => {
    await openLook(1);
    refuses = true;
    section.value = { widthM: 1 };
    await nextTick();
    await vi.runAllTimersAsync();
    refuses = false;
    classes.value = [];
    await nextTick();
    await vi.runAllTimersAsync();
    expect(looks.get(ONE)).toEqual({ section: { widthM: 1 }, classes: [] });
  });
});
