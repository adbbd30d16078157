import { LOOK_CELL_M, type Looked } from '@longheron/core/cloud';
import { facts, h2, plain, type Node } from '../shared/pages/elements';

/** The chapter on where the cloud was looked at. @param factor units of length a metre. */
export function lookedChapter(
  looked: Looked | null,
  picture: Buffer | null,
  cloud: string,
  factor: number,
  symbol: string,
): Node[] {
  if (!looked || !picture) return [];
  const area = (m2: number) =>
    `${(m2 * factor * factor).toFixed(0)} ${symbol}² (${((100 * m2) / Math.max(1, looked.coveredM2)).toFixed(0)} %)`;
  return [
    h2('Looked at'),
    {
      text: `${plain(cloud)}: where somebody has had the cloud before the eye at close range (20 pixels a metre or more) or in a section, by cells of ${LOOK_CELL_M} m. It says where it was looked at, not that nothing was overlooked.`,
      style: 'soft',
    },
    facts([
      ['Close', area(looked.closeM2)],
      ['In a section', area(looked.sectionM2)],
      ['Never', area(looked.neverM2)],
      ['Points changed by hand', String(looked.changedPoints)],
      ['Last', looked.lastAt ? `${looked.lastAt.slice(0, 16).replace('T', ' ')} UTC` : 'never'],
    ]),
    {
      stack: [
        { image: `data:image/png;base64,${picture.toString('base64')}`, fit: [505, 300], margin: [0, 4, 0, 2] },
        {
          text: 'Green close, blue in a section, red-brown never; a dark mark where points were changed.',
          style: 'soft',
        },
      ],
      unbreakable: true,
    },
  ];
}
