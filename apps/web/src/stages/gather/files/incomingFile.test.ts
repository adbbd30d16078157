// @vitest-environment happy-dom
import { enableAutoUnmount } from '@vue/test-utils';
import { afterEach, describe, expect, it } from 'vitest';
import { useIntake, type Incoming } from '../../../stores/intake';
import { button, mounted, wordsOf } from '../../../test/mounted';
import { dataset, opened, run } from '../../../test/project';
import IncomingFile from './IncomingFile.vue';

enableAutoUnmount(afterEach);
const FILE: Incoming = { key: 1, project: 7, name: 'drive.csv', bytes: 2000, sent: 2000, error: '', run: 5 };
const intake = (change: object) => run(5, { operation: 'intake', title: 'Import drive.csv', ...change });

describe('a file on its way into the project', () => {
  it('is waited for, inspected, and recognised, with a way to it', async () => {
    const { pinia, store, now } = await opened({ runs: [intake({ status: 'queued', endedAt: null })] });
    const w = await mounted(IncomingFile, pinia, { file: FILE });
    expect(wordsOf(w)).toContain('Waiting to be inspected');
    now({ runs: [intake({ status: 'running', progress: 0.4, endedAt: null })] });
    await store.refresh();
    expect(wordsOf(w)).toContain('Being inspected, 40 %');
    now({ runs: [intake({ outputs: [3] })], datasets: [dataset(3, 'trajectory')] });
    await store.refresh();
    expect(wordsOf(w)).toContain('Recognised as trajectory Show');
    expect(w.get('a').attributes('href')).toBe('/project/7/gather/files/3');
  });

  it('is told to be there already, or refused with place and remedy, and tried again', async () => {
    const log = ['The same content is there already as "trajectory 3".'];
    const { pinia, server, store, now } = await opened({
      runs: [intake({ outputs: [3], log })],
      datasets: [dataset(3, 'trajectory')],
    });
    const w = await mounted(IncomingFile, pinia, { file: FILE });
    expect(wordsOf(w)).toContain('The same content as "trajectory 3", which is there already');
    const error = { message: 'lat_deg is "x": not a number.', place: 'line 9', remedy: 'Correct the line.' };
    now({ runs: [intake({ status: 'failed', error })] });
    await store.refresh();
    expect(wordsOf(w)).toContain('Refused: lat_deg is "x": not a number. At line 9. Correct the line.');
    server.on('POST /projects/7/runs/5/again', {});
    await button(w, 'Try again').trigger('click');
    expect(server.sent('POST', '/projects/7/runs/5/again')).toHaveLength(1);
  });

  it('that cannot be sent says so in its row; picked ones have theirs, and the list is cleared', async () => {
    const { pinia, server } = await opened();
    const store = useIntake();
    store.send(7, [new File([], 'empty.csv')]);
    expect(wordsOf(await mounted(IncomingFile, pinia, { file: store.files[0] }))).toContain('The file is empty');
    server.on('POST /projects/7/take', { files: ['a.csv', 'b.csv'], runs: [8, 9] });
    await store.take(7, [
      { path: '/data/a.csv', name: 'a.csv', bytes: 10 },
      { path: '/data/b.csv', name: 'b.csv', bytes: 20 },
    ]);
    expect(server.sent('POST', '/projects/7/take')).toEqual([{ paths: ['/data/a.csv', '/data/b.csv'] }]);
    expect(store.files.map((f) => [f.name, f.run])).toEqual([
      ['b.csv', 9],
      ['a.csv', 8],
      ['empty.csv', null],
    ]);
    store.clear(7);
    expect(store.files).toEqual([]);
  });
});
