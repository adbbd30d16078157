import { writeFile } from 'node:fs/promises';
import { type MosaicFigures } from '@longheron/contract/kinds/mosaic';
import declaration from '@longheron/contract/operations/sidescan';
import { mountingToJson } from '@longheron/core/frames';
import { part, Problem, tick, type Notice } from '@longheron/core/shared';
import { BOTTOM_DEFAULTS, doubtfulStretches } from '@longheron/core/sonar';
import { parseSystem } from '@longheron/formats/crs';
import { writeBrightnessTiff } from '@longheron/formats/geotiff';
import { openAs } from '@longheron/formats/registry';
import { computation } from '../computation/types';
import { trajectoryFrame } from '../place';
import { paintCells } from '../shared/raster';
import { ReportBuilder } from '../shared/report';
import { frameNotices, percent, systemFrom } from '../shared/words';
import { sidescanChapter } from './chapter';
import { scannedLine, tracksCsv, type ScannedLine } from './lines';
import { mosaicOf, spacings } from './mosaic';

/** Brightness that is shown white. */
const WHITE = 20_000;

/** Side-scan lines to a mosaic. */
export default computation(
  declaration,
  async ({ sonar, mounting, trajectory, casts, bed }, settings, context, out, watch) => {
    const { channel, cellM, overlap, order, stepM, thickM, castBy, trajectoryCrs } = settings;
    const system = systemFrom(context);
    const builder = new ReportBuilder('sidescan', { ...settings, mounting: mountingToJson(mounting.mounting) });
    const given = trajectory && (await openAs('trajectory', trajectory.path, trajectory.name));
    if (given)
      builder.notices.push(
        ...frameNotices(trajectoryFrame(given, trajectoryCrs, trajectory.name), system, trajectory.name),
      );
    const heights = bed && (await bed.heights('ground'));
    if (heights?.crs && parseSystem(heights.crs).label.split('+')[0] !== system.label.split('+')[0])
      throw new Problem(`The depth grid is in ${heights.crs}, the mosaic in ${system.label}.`, {
        code: 'crs-differs',
        file: bed!.name,
        remedy: 'Make the grid in the system of the mosaic.',
      });
    if (!given && bed)
      builder.notice({
        code: 'bed-heights',
        severity: 'warning',
        file: bed.name,
        text: 'Without a trajectory the height of the head is not known: ranges were corrected on a flat bed.',
        remedy: 'Choose the trajectory of the vessel.',
      });
    const grid = given ? heights?.grid : undefined;
    const lines: ScannedLine[] = [];
    const files = ordered(sonar, order);
    const castList = await openAs('casts', casts.path, casts.name);
    for (const [k, file] of files.entries()) {
      tick(watch, (0.4 * k) / files.length, `Tracking ${file.name}`);
      lines.push(
        await scannedLine(
          file,
          {
            channel,
            mounting: mounting.mounting,
            mountingName: mounting.name,
            trajectory: given,
            casts: castList,
            castBy,
            system,
            bottom: { ...BOTTOM_DEFAULTS, stepM, thickM },
          },
          part(watch, (0.4 * k) / files.length, (0.4 * (k + 1)) / files.length),
        ),
      );
    }
    if (!lines.some((l) => l.ground.some(Boolean)))
      throw new Problem('No ping lies within the trajectory.', {
        code: 'sidescan-none',
        file: trajectory?.name ?? files[0]?.name,
        remedy: 'Choose the trajectory of the same session.',
      });
    const { grid: cells, values } = mosaicOf({ lines, cellM, overlap, bed: grid }, part(watch, 0.4, 0.85));
    tick(watch, 0.88, 'Writing the mosaic');
    const file = await out.file('mosaic', 'geotiff', (path) =>
      writeBrightnessTiff(path, cells, values, system.definition),
    );
    const table = [...tracksCsv(lines, channel)].join('');
    const tracks = await out.file('tracks', 'csv', (path) => writeFile(path, table));
    const figures = figuresOf(lines, values, {
      channel,
      cellM,
      overlap,
      bed: !!grid,
      columns: cells.columns,
      rows: cells.rows,
    });
    for (const n of noticesOf(figures)) builder.notice(n);
    const { keeps, store } = out;
    const shown = { ...cells, heightM: Float32Array.from(values, (v) => (v ? v : Number.NaN)) };
    const picture = keeps
      ? await store.bytes(
          await paintCells(shown, (v) => {
            const g = 255 * Math.min(1, Math.sqrt(v / WHITE));
            return [g, 0.86 * g + 6, 0.62 * g + 10];
          }),
          'png',
        )
      : '';
    return {
      content: {
        figures,
        object: file.sha256,
        bytes: file.bytes,
        tracks: tracks.sha256,
        picture,
        crs: system.label,
        layout: { cellM, westM: cells.westM, northM: cells.northM, columns: cells.columns, rows: cells.rows },
      },
      hash: file.sha256,
      report: builder.finish(system.label, figures),
      log: [`${figures.pings} pings of ${lines.length} lines, ${figures.cells} cells.`],
      lines: [
        `${figures.pings} pings of ${lines.length} lines, channel ${channel}; first return sure in ${percent(figures.tracked_share)}; ranges corrected on ${grid ? 'the depth grid' : 'a flat bed'}.`,
        `${figures.cells} cells of ${cellM} m with something in them; pings lie ${figures.ping_spacing_m.toFixed(2)} m apart, samples ${figures.sample_spacing_m.toFixed(3)} m.`,
        ...figures.lines.map(
          (l) =>
            `${l.file}: ${l.pings} pings, ${percent(l.tracked_share)} sure, altitude ${l.altitude_m.map((v) => v.toFixed(1)).join(' to ')} m`,
        ),
      ],
    };
  },
  { chapter: sidescanChapter },
);

/** Files from the bottom to the top of the stack. @throws Problem for a name that is none of them. */
function ordered<F extends { path: string; name: string }>(
  files: readonly F[],
  order: readonly string[],
): readonly F[] {
  if (!order.length) return files;
  const base = (text: string) => text.replace(/^.*[\\/]/, '');
  const named = order.map((name) => {
    const found = files.find((f) => f.name === base(name) || f.path === name);
    if (found) return found;
    throw new Problem(`The order names "${name}", which is none of the lines.`, {
      code: 'sidescan-order',
      remedy: `The lines are ${files.map((f) => f.name).join(', ')}.`,
    });
  });
  // lines that are not named lie below
  return [...files.filter((f) => !named.includes(f)), ...named];
}

function figuresOf(
  lines: readonly ScannedLine[],
  values: Uint16Array,
  of: Pick<MosaicFigures, 'channel' | 'overlap' | 'columns' | 'rows'> & { cellM: number; bed: boolean },
): MosaicFigures {
  let cells = 0;
  for (const v of values) if (v) cells++;
  const { pingM, sampleM } = spacings(lines);
  const list = lines.map(({ name, track, ground }) => {
    const placed = ground.filter((g) => g !== undefined);
    const altitudes = placed.map((g) => g.altitudeM);
    const sure = track.flagged.reduce((sum, f) => sum + (f ? 0 : 1), 0);
    return {
      file: name,
      pings: ground.length,
      tracked_share: sure / Math.max(1, ground.length),
      edited: track.edited.reduce((sum, e) => sum + e, 0),
      altitude_m: [Math.min(...altitudes), Math.max(...altitudes)] as [number, number],
      outside: ground.length - placed.length,
      doubtful: doubtfulStretches(track),
    };
  });
  const pings = list.reduce((sum, l) => sum + l.pings, 0);
  return {
    channel: of.channel,
    cell_m: of.cellM,
    columns: of.columns,
    rows: of.rows,
    cells,
    empty_cells: values.length - cells,
    pings,
    tracked_share: list.reduce((sum, l) => sum + l.tracked_share * l.pings, 0) / Math.max(1, pings),
    overlap: of.overlap,
    bed: of.bed ? 'grid' : 'flat',
    ping_spacing_m: pingM,
    sample_spacing_m: sampleM,
    order: list.map((l) => l.file),
    lines: list,
  };
}

function noticesOf(f: MosaicFigures): Notice[] {
  const outside = f.lines.reduce((sum, l) => sum + l.outside, 0);
  return [
    ...(f.cell_m < 0.8 * Math.max(f.ping_spacing_m, f.sample_spacing_m)
      ? [
          {
            code: 'sidescan-cell',
            severity: 'info' as const,
            text: `Cells of ${f.cell_m} m are finer than pings lie apart (${f.ping_spacing_m.toFixed(2)} m).`,
            effect: 'Along the lines the picture shows nothing more.',
          },
        ]
      : []),
    ...(outside
      ? [
          {
            code: 'outside-trajectory',
            severity: 'warning' as const,
            text: `${outside} of ${f.pings} pings lie outside the trajectory or in a gap of it.`,
            effect: 'They are not in the mosaic.',
          },
        ]
      : []),
    ...(f.tracked_share < 0.95
      ? [
          {
            code: 'sidescan-track',
            severity: 'warning' as const,
            text: `In ${((1 - f.tracked_share) * 100).toFixed(0)} % of the pings the first return from the bed is doubtful.`,
            effect: 'There the bed is bent towards or away from the line.',
            remedy: 'Look at the doubtful stretches, worst first.',
          },
        ]
      : []),
    ...(f.bed === 'flat'
      ? [
          {
            code: 'sidescan-flat',
            severity: 'info' as const,
            text: 'Ranges were corrected on a flat bed.',
            effect: 'On a slope things lie off by half a metre and more.',
            remedy: 'Make a depth grid of the soundings and choose it.',
          },
        ]
      : []),
  ];
}
