import { QueryTypes } from 'sequelize';
import { type Look, type LookKind } from '@longheron/core/cloud';
import { Dataset } from '../../database/models';

/** Kinds of looks as the table has them. */
export const LOOK_KINDS: LookKind[] = ['close', 'section'];
/** Where somebody has looked at a cloud: all its revisions together. */
export async function looksOf(datasetId: number): Promise<Look[]> {
  const rows = await Dataset.sequelize!.query<{ x: number; y: number; how: number; seconds: number; lastAt: Date }>(
    'SELECT cellX AS x, cellY AS y, how, seconds, lastAt FROM looks WHERE datasetId = ?',
    { replacements: [datasetId], type: QueryTypes.SELECT },
  );
  return rows.map((r) => ({ ...r, how: LOOK_KINDS[r.how], lastAt: new Date(r.lastAt).toISOString() }));
}
