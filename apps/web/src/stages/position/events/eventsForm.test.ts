// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, expect, it, vi } from 'vitest';
import { mounted } from '../../../test/mounted';
import { dataset, opened } from '../../../test/project';
import EventsForm from './EventsForm.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

it('positions a result again from what it was made of, not from what was imported first', async () => {
  const mounting = { mounting: { sensors: { camera: { lever_arm_m: [0, 0, 0] } } } };
  const made = (role: string, datasetId: number) => ({ role, datasetId, revisionId: datasetId, contentHash: '' });
  const result = dataset(
    9,
    'positions',
    { point: 'camera', figures: {} },
    {
      stage: 'position',
      revision: {
        id: 90,
        madeBy: 'events',
        inputs: [made('events', 4), made('trajectory', 6), made('photos', 8), made('sensor camera', 3)],
      },
    },
  );
  const { pinia, server } = await opened({
    datasets: [
      dataset(1, 'events'),
      dataset(2, 'mounting', mounting),
      dataset(3, 'mounting', mounting),
      dataset(4, 'events'),
      dataset(5, 'trajectory'),
      dataset(6, 'trajectory'),
      dataset(7, 'photos'),
      dataset(8, 'photos'),
      result,
    ],
  });
  server.on('GET /projects/7/datasets/9/revisions', [
    { id: 90, number: 1, madeBy: 'events', current: true, settings: { sensor: 'camera' } },
  ]);
  const wrapper = await mounted(EventsForm, pinia, { result });
  await flushPromises();
  await wrapper.get('form').trigger('submit');
  await flushPromises();
  const [sent] = server.sent('POST', '/projects/7/runs') as Array<{ inputs: object; outputDataset: number }>;
  expect(sent.outputDataset).toBe(9);
  expect(sent.inputs).toMatchObject({ events: 4, trajectory: 6, photos: 8, mounting: 3 });
});
