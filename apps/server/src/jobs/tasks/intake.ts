import { readFile, stat } from 'node:fs/promises';
import { part, Problem, type Notice, type Watch } from '@longheron/core/shared';
import { hashFile } from '@longheron/formats/bytes';
import { parseSystem } from '@longheron/formats/crs';
import { guessMapping, marksFromTable, readMarks, readTable, type MarkMapping } from '@longheron/formats/marks';
import { readMounting } from '@longheron/formats/mounting';
import { readTrajectory } from '@longheron/formats/trajectory';
import { type PointColumns } from '@longheron/formats/xyz';
import { cloudFormat, convertCloud, textColumns, type Converted } from '@longheron/operations/convert';
import { emptyFacts, inspectFile, inspectPoints, suspectMarks, type MarkContext } from '@longheron/operations/inspect';
import { storeCloud } from './cloudStore';
import { previewTrajectory } from './preview';
import { rasterContent } from './raster';
import { objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

const PREVIEW_ROWS = 12;

/** Recognises a file by content, inspects it and prepares what the screen needs of it. */
export async function inspect(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const { path, name, context, crs } = r.payload as {
    path: string;
    name: string;
    context: MarkContext;
    /** Null while the project has no reference line. */
    crs: string | null;
  };
  const { sha256, bytes } = await hashFile(path, part(watch, 0, 0.4), (await stat(path)).size);
  const facts = await inspectFile(path, name, context, part(watch, 0.4, 0.9));
  const shelf = new Shelf(r.storeFolder);
  const notices: Notice[] = [...facts.findings];
  const content: Record<string, unknown> = {
    object: sha256,
    bytes,
    facts: { ...facts, path: undefined, findings: undefined },
  };
  if (facts.kind === 'marks') {
    const read = readMarks(await readFile(path), name);
    content.marks = read.marks;
    content.crs = read.crs ?? null;
  } else if (facts.kind === 'table') {
    const table = readTable(await readFile(path), name);
    content.table = { header: table.header, rows: table.rows.slice(0, PREVIEW_ROWS), count: table.rows.length };
    content.mapping = guessMapping(table) ?? null;
    content.crs = table.comments.get('crs') ?? null;
  } else if (facts.kind === 'mounting') {
    readMounting(await readFile(path), name);
    content.mounting = JSON.parse(await readFile(path, 'utf8'));
  } else if (facts.kind === 'raster') {
    content.raster = await rasterContent(path, name);
  } else if (facts.kind === 'trajectory' && crs) {
    Object.assign(content, await storePreview(shelf, path, name, crs));
  }
  return {
    content,
    contentHash: sha256,
    objects: [...shelf.objects, { sha256, bytes, kind: facts.kind }],
    notices,
    log: [],
  };
}

/** Plots and path of a trajectory in a system, put on the shelf. */
export async function storePreview(
  shelf: Shelf,
  path: string,
  name: string,
  crs: string,
): Promise<Record<string, unknown>> {
  const made = previewTrajectory(readTrajectory(await readFile(path), name), parseSystem(crs));
  return { preview: await shelf.json(made, 'preview'), previewCrs: crs, around: made.around };
}

/** What is kept of a trajectory that was made here: its file, facts, plots and path. */
export async function trajectoryContent(
  shelf: Shelf,
  storeFolder: string,
  sha256: string,
  name: string,
  crs: string,
): Promise<Record<string, unknown>> {
  const path = objectPath(storeFolder, sha256);
  const facts = await inspectFile(path, name);
  return {
    object: sha256,
    bytes: (await stat(path)).size,
    facts: { ...facts, path: undefined, findings: undefined },
    ...(await storePreview(shelf, path, name, crs)),
  };
}

/** The plots and the path of a trajectory in another system, after the reference line has changed. */
export async function preview(r: TaskRequest): Promise<TaskResult> {
  const p = r.payload as { object: string; name: string; crs: string };
  const shelf = new Shelf(r.storeFolder);
  const content = await storePreview(shelf, objectPath(r.storeFolder, p.object), p.name, p.crs);
  return { content, contentHash: String(content.preview), objects: shelf.objects, notices: [], log: [] };
}

/** Builds the store of a cloud that was taken in as a file; one of another format is written as LAS first. */
export async function openCloud(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as { object: string; name: string; crs: string | null; columns?: PointColumns };
  const shelf = new Shelf(r.storeFolder);
  const path = objectPath(r.storeFolder, p.object);
  const format = await cloudFormat(path);
  let las = p.object;
  const content: Record<string, unknown> = {};
  const log: string[] = [];
  const notices: Notice[] = [];
  if (format !== 'las') {
    let made: Converted | undefined;
    const options = { name: p.name, columns: p.columns, crs: p.crs ?? undefined, created: new Date() };
    ({ sha256: las } = await shelf.file(async (out) => {
      made = await convertCloud(path, out, options, part(watch, 0, 0.4));
    }, 'las'));
    content.converted = { format, ...made };
    log.push(`${made!.points} points written as LAS, ${made!.left} without coordinates left out.`);
    if (made!.lost.length) log.push(`Not carried over: ${made!.lost.join(', ')}.`);
  }
  if (p.columns && format !== 'las') {
    // where it lies and what was found on intake were by the guessed columns
    const facts = emptyFacts(path, p.name, (await stat(path)).size, 'point-cloud');
    await inspectPoints(facts, path, format, part(watch, 0.4, 0.5), p.columns);
    notices.push(...facts.findings);
    content.facts = { ...facts, path: undefined, findings: undefined };
  }
  if (format === 'text') {
    const found = await textColumns(path, p.name);
    content.pointText = found && {
      header: found.layout.header ?? null,
      sample: found.layout.sample,
      columns: p.columns ?? found.columns,
    };
  }
  const stored = await storeCloud(shelf, r.storeFolder, las, format === 'las' ? watch : part(watch, 0.4, 1));
  return { content: { las, ...content, ...stored }, contentHash: las, objects: shelf.objects, notices, log };
}

/** Reads a table of another column order as marks. */
export async function mapMarks(r: TaskRequest): Promise<TaskResult> {
  const p = r.payload as { object: string; name: string; mapping: MarkMapping; context: MarkContext };
  const table = readTable(await readFile(objectPath(r.storeFolder, p.object)), p.name);
  const columns = table.header.length;
  for (const [role, at] of Object.entries(p.mapping))
    if (typeof at === 'number' && (at < 0 || at >= columns))
      throw new Problem(`Column ${at + 1} for ${role} does not exist.`, {
        code: 'marks-columns',
        file: p.name,
        remedy: `Choose one of the ${columns} columns.`,
      });
  const marks = marksFromTable(table, p.mapping, p.name);
  return {
    content: { marks, mapping: p.mapping },
    contentHash: '',
    objects: [],
    notices: suspectMarks(marks, p.name, p.context),
    log: [],
  };
}
