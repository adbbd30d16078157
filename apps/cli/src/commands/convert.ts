import { rm } from 'node:fs/promises';
import { extname } from 'node:path';
import { isPointFormat, POINT_ENDINGS, POINT_FORMATS, pointFormat } from '@longheron/contract/formats';
import { part, Problem } from '@longheron/core/shared';
import { LasFile } from '@longheron/formats/las';
import { type PointColumn, type PointColumns } from '@longheron/formats/text';
import { isWorkedOn, writePoints } from '@longheron/formats/registry';
import { convertCloud } from '@longheron/operations/shared/convert';
import { systemOfHeader } from '@longheron/operations/shared/cloud';
import { ReportBuilder } from '@longheron/operations/shared/report';
import { withGrids } from './grids';
import { type Command } from './command';

/** Ways of writing by the extension of the output, the first of a format before its others. */
const WAYS = Object.keys(POINT_FORMATS).filter(isPointFormat);
const wayOf = (extension: string) => WAYS.find((w) => pointFormat(w).extension === extension);
/** Extensions beside the one that a format is written with. */
const ALSO: { [extension: string]: string } = { txt: 'csv' };

const COLUMNS = [
  'x',
  'y',
  'z',
  'intensity',
  'red',
  'green',
  'blue',
  'classification',
  'returnNumber',
  'returnCount',
  'time',
  'source',
];

/** `x,y,z,-,intensity`: what each column holds, - for nothing. */
function columnsOf(text: string | undefined): PointColumns | undefined {
  if (!text) return undefined;
  const out: Partial<PointColumns> = {};
  text.split(',').forEach((name, k) => {
    if (name === '-') return;
    if (!COLUMNS.includes(name))
      throw new Problem(`"${name}" is no column of a point.`, {
        code: 'option',
        remedy: `Known are ${COLUMNS.join(', ')} and -.`,
      });
    out[name as PointColumn] = k;
  });
  if (out.x === undefined || out.y === undefined || out.z === undefined)
    throw new Problem('The columns x, y and z are needed.', { code: 'option', remedy: 'Give --columns x,y,z,…' });
  return out as PointColumns;
}

export const convert: Command = {
  options: {
    in: 'string',
    out: 'string',
    crs: 'string',
    geoid: 'string',
    shift: 'string',
    systems: 'string',
    columns: 'string',
    text: 'boolean',
  },
  async run(o, watch) {
    const path = o.must('in');
    const out = o.output('out', [path])!;
    const extension = extname(o.must('out')).slice(1).toLowerCase();
    const known = wayOf(ALSO[extension] ?? extension);
    if (!known)
      throw new Problem(`"${extension && `.${extension}`}" is no format that is written.`, {
        code: 'option',
        remedy: `Name the output ${POINT_ENDINGS.join(', ')}.`,
      });
    const text = `${known}-text`;
    const format = o.flag('text') && isPointFormat(text) ? text : known;
    const gridsOf = (flag: string) => (o.text(flag) ? o.list(flag) : []);
    const crs = withGrids(
      o.text('crs'),
      { geoid: gridsOf('geoid'), shift: gridsOf('shift'), systems: gridsOf('systems') },
      'crs',
    );
    const builder = new ReportBuilder('convert', { format, crs });
    await builder.input(path);
    const made = `${out}.points.las`;
    const direct = await isWorkedOn(path);
    const lost: string[] = [];
    try {
      if (!direct) {
        const options = { columns: columnsOf(o.text('columns')), crs, created: new Date() };
        const converted = await convertCloud(path, made, options, part(watch, 0, 0.6));
        lost.push(...converted.lost);
      }
      const file = await LasFile.openPath(direct ? path : made);
      try {
        const named = systemOfHeader(file.header, path, [])?.label ?? crs;
        const keep = new Uint8Array(file.header.pointCount).fill(1);
        const { written, lost: left } = await writePoints(format, { file, keep, crs: named }, out, part(watch, 0.6, 1));
        lost.push(...left);
        const report = builder.finish(named ?? '', { points: written, not_carried_over: lost });
        const lines = [`${written} points written to ${o.must('out')}.`];
        if (lost.length) lines.push(`Not carried over: ${lost.join(', ')}.`);
        return { report, lines };
      } finally {
        await file.close();
      }
    } finally {
      await rm(made, { force: true });
    }
  },
};
