import { type ClassCheck } from '@longheron/core/accuracy';
import { kind } from '../declare/kind';
import { percent } from './coverage';

export interface Content {
  figures: ClassCheck;
  /** Of each class in the table. */
  names: { [cls: string]: string };
  /** Smallest share that was to agree, per cent. */
  leastPercent?: number;
}

export default kind<Content>({
  name: 'Classes against a reference',
  counts: 'classes',
  card: ({ figures }) => `${percent(figures.overall)} agree`,
  judgedBy: (c) => c.leastPercent,
  exports: { classes: { label: 'Confusion table, CSV', extension: 'csv', type: 'text/csv', by: 'class-check' } },
});
