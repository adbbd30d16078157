import { type DeliveredTile, type DeliveryCheck, type IndexedTile } from '@longheron/core/cloud';
import { kind } from '../declare/kind';

export interface Content {
  check: DeliveryCheck;
  tiles: DeliveredTile[];
  index: IndexedTile[] | null;
  crs: string;
}

export default kind<Content>({
  name: 'Delivery of tiles',
  counts: 'tiles',
  card: ({ check }) => `${check.tiles} tiles, ${check.findings.length} faults`,
  exports: { delivery: { label: 'Faults, CSV', extension: 'csv', type: 'text/csv', by: 'delivery' } },
});
