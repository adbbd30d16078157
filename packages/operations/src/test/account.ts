import { type Account } from '../shared/pages';

/** A project as reports know it: metres, heights by EGM96, a tolerance of 3 cm, a short trail. */
export function account(change: Partial<Account> = {}): Account {
  return {
    project: { name: 'Reach', purpose: 'Terrain of the reach', toleranceM: 0.03 },
    reference: {
      horizontal: 25832,
      horizontalName: 'ETRS89 / UTM zone 32N',
      vertical: 5773,
      verticalName: 'EGM96 height',
      unit: 'metre',
      time: 'gps',
      epoch: 2026.46,
      statement: 'Heights are EGM96.',
    },
    trail: [
      {
        name: 'drive.las',
        kind: 'point cloud',
        revision: 1,
        hash: 'ab12cd34',
        madeBy: 'imported',
        madeAt: '2026-06-16T10:00:00Z',
        bytes: 1024,
        from: [],
        settings: null,
        outOfDate: null,
      },
      {
        name: 'Terrain',
        kind: 'terrain model',
        revision: 2,
        hash: 'ef56',
        madeBy: 'surface',
        madeAt: '2026-06-16T11:00:00Z',
        bytes: null,
        from: ['drive.las'],
        settings: { cellM: 0.5 },
        outOfDate: null,
      },
    ],
    notices: [
      {
        dataset: 'drive.las',
        severity: 'warning',
        text: 'Two gaps, the longest 0.3 s.',
        effect: 'Points are missing.',
        remedy: 'See where.',
        state: 'accepted',
        reason: 'Under the bridge.',
      },
    ],
    version: '0.1.0',
    date: '2026-06-17',
    before: null,
    clouds: {},
    looked: null,
    density: null,
    views: [],
    sources: {},
    sheets: [],
    revision: 1,
    ...change,
  };
}
