// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { type PointsContent } from '@longheron/contract/kinds/export';
import { type Content as Surface } from '@longheron/contract/kinds/surface';
import { button, mounted, wordsOf } from '../../../test/mounted';
import { dataset, opened } from '../../../test/project';
import PointsFile from './PointsFile.vue';
import ProductList from './ProductList.vue';
import ReportPanel from './ReportPanel.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

const POINTS: PointsContent = {
  format: 'las',
  split: 'one',
  crs: 'EPSG:25832+5773',
  figures: { points_in: 1000, points_out: 900, left_out_rejected: 60, left_out_class: 30, left_out_strip: 10 },
  bytes: 27_000,
};

describe('points in a file', () => {
  const file = dataset(30, 'export', POINTS, { name: 'Ground points' });
  async function shown(content: PointsContent) {
    const { pinia } = await opened({ datasets: [file] });
    return mounted(PointsFile, pinia, { dataset: file, content });
  }

  it('add up: what was left out and why, and what was written', async () => {
    const words = wordsOf(await shown(POINTS));
    expect(words).toMatch(/Points in the cloud\s*1\s?000/);
    expect(words).toMatch(/rejected\s*60.*other classes\s*30.*other strips\s*10.*Written\s*900/);
    expect(words).toContain('EPSG:25832+5773');
    expect(words).not.toContain('Not in this format');
  });

  it('say what their format does not carry', async () => {
    expect(wordsOf(await shown({ ...POINTS, lost: ['flags', 'scan angle'] }))).toContain(
      'Not in this format: flags, scan angle.',
    );
  });

  it('in tiles stand one by one; a tile with more points than allowed is marked', async () => {
    const piece = (name: string, own: number) => ({ name, own, neighbours: 20, sha256: 'ab', bytes: 5000 });
    const wrapper = await shown({
      ...POINTS,
      split: 'tiles',
      cap: 500,
      pieces: [piece('467000_6215000_100', 400), piece('467100_6215000_100', 490)],
    });
    const rows = wrapper.findAll('tbody tr');
    expect(rows.map((r) => r.classes().includes('over'))).toEqual([false, true]);
    expect(wordsOf(wrapper)).toContain('2 files and their index in a ZIP');
    expect(wordsOf(wrapper)).toContain('Most points allowed: 500');
  });
});

describe('files of a terrain model', () => {
  it('are those that were made, each with its size', async () => {
    const surface = dataset(20, 'surface');
    const content = {
      exports: { geotiff: { sha256: 'a', bytes: 2_500_000 }, landXml: { sha256: 'b', bytes: 900 } },
    } as unknown as Surface;
    const { pinia } = await opened({ datasets: [surface] });
    const wrapper = await mounted(ProductList, pinia, { dataset: surface, content });
    expect(wrapper.findAll('a').map((a) => [a.text(), a.attributes('href')])).toEqual([
      ['Terrain grid, GeoTIFF', '/api/projects/7/datasets/20/export/geotiff'],
      ['TIN, LandXML 1.2', '/api/projects/7/datasets/20/export/landXml'],
    ]);
    expect(wordsOf(wrapper)).toMatch(/2\.5\s*MB/);
  });
});

describe('the report', () => {
  const surface = dataset(
    20,
    'surface',
    {},
    { name: 'Terrain model', stage: 'deliver', revision: { madeBy: 'surface' } },
  );
  const check = dataset(
    21,
    'residuals',
    {},
    { name: 'Height residuals', stage: 'prove', revision: { madeBy: 'check' } },
  );
  const strips = dataset(
    22,
    'agreement',
    {},
    { name: 'Strip agreement', stage: 'prove', revision: { madeBy: 'agreement' } },
  );

  it('waits for a terrain model and a check', async () => {
    const { pinia, server } = await opened({ datasets: [surface] });
    server.on('GET /projects/7/report-pictures', []);
    const wrapper = await mounted(ReportPanel, pinia);
    expect(button(wrapper, 'Write the report').attributes('disabled')).toBeDefined();
  });

  it('is written with a chapter on every other proof, and pictures that can be left out', async () => {
    const { pinia, server } = await opened({ datasets: [surface, check, strips] });
    server.on('GET /projects/7/report-pictures', [{ id: 4, object: 'ab', caption: 'Under the bridge' }]);
    const wrapper = await mounted(ReportPanel, pinia);
    await flushPromises();
    expect(wordsOf(wrapper)).toContain('Under the bridge');
    await button(wrapper, 'Write the report').trigger('submit');
    await flushPromises();
    expect(server.sent('POST', '/projects/7/runs')).toMatchObject([
      { operation: 'report', inputs: { surface: 20, check: 21, parts: [22] } },
    ]);
    server.on('DELETE /projects/7/report-pictures/4', undefined).on('GET /projects/7/report-pictures', []);
    await button(wrapper, 'Leave out').trigger('click');
    await flushPromises();
    expect(wordsOf(wrapper)).not.toContain('Under the bridge');
  });

  it('says its revision, its pages and its seal', async () => {
    const report = dataset(
      23,
      'report',
      { pages: 12, bytes: 640_000 },
      { stage: 'deliver', revision: { madeBy: 'report', number: 3, contentHash: '0123456789abcdef'.repeat(4) } },
    );
    const { pinia, server } = await opened({ datasets: [surface, check, report] });
    server.on('GET /projects/7/report-pictures', []);
    const words = wordsOf(await mounted(ReportPanel, pinia));
    expect(words).toMatch(/revision 3, 12 pages, 640(\.0)?\s*kB, sealed by SHA-256 0123456789ab…/);
    expect(words).toContain('Write the report again');
  });
});
