import { readdir, readFile, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { Dataset, Project, Run } from '../../database/models';
import { type Services } from '../../services';
import { enterIntake, forgetUpload, prepare, nameInTitle, takeFile, type Taken } from './intake';

/** Said in the log of a job that goes on by itself after a stop; it does so once, lest one file stop every start. */
const TAKEN_UP = 'Taken up again after the server had stopped.';

/** Uploads that have arrived whole, with what was said of them. @param quietMs so long nothing was written to them. */
async function arrived(folder: string, quietMs: number): Promise<Array<Taken & { project: number }>> {
  const out: Array<Taken & { project: number }> = [];
  for (const file of await readdir(folder).catch(() => [])) {
    if (!file.endsWith('.json')) continue;
    const path = join(folder, file.slice(0, -'.json'.length));
    try {
      const said = JSON.parse(await readFile(join(folder, file), 'utf8')) as {
        size?: number;
        metadata?: { project?: string; filename?: string } | null;
      };
      const { size, mtimeMs } = await stat(path);
      if (size !== said.size || Date.now() - mtimeMs < quietMs) continue;
      const project = Number(said.metadata?.project);
      if (Number.isSafeInteger(project))
        out.push({ path, name: nameOf(said.metadata?.filename), upload: true, project });
    } catch {
      // not there yet, or gone meanwhile
    }
  }
  return out;
}

/** Name of an uploaded file, without folders. */
export const nameOf = (given: unknown) => basename(String(given ?? 'file')).slice(0, 200) || 'file';

/**
 * Goes on with what was accepted and not finished when the server last stopped: uploads without a job get one, jobs of
 * intake that were cut off are taken up once, what is in a project already is tidied away.
 * @param quietMs younger uploads are left to those who still work on them.
 * @returns how many go on, and when they have ended.
 */
export async function adopt(services: Services, quietMs = 0): Promise<{ count: number; done: Promise<unknown> }> {
  const going: Array<() => Promise<unknown>> = [];
  const known = new Map<string, Run>();
  const uploads = await arrived(join(services.storeFolder, 'uploads'), quietMs);
  for (const run of uploads.length ? await Run.findAll({ where: { operation: 'intake' }, order: [['id', 'ASC']] }) : [])
    if (typeof run.settings.upload === 'string') known.set(run.settings.upload, run);
  for (const file of uploads) {
    const run = known.get(basename(file.path));
    if (run?.status === 'done') await forgetUpload(file.path);
    else if (!run && (await Project.findByPk(file.project))) {
      const made = await enterIntake(services, file.project, file);
      going.push(() => takeFile(services, made, file));
    }
  }
  for (const run of await Run.findAll({ where: { operation: 'intake', status: 'interrupted' } })) {
    const { path, upload, prepare: datasetId } = run.settings;
    if (run.log.includes(TAKEN_UP)) continue;
    const name = nameInTitle(run.title);
    let go: (() => Promise<unknown>) | undefined;
    if (typeof upload === 'string') {
      const file: Taken = { path: join(services.storeFolder, 'uploads', basename(upload)), name, upload: true };
      go = () => takeFile(services, run, file);
    } else if (typeof path === 'string') {
      const file: Taken = { path, name: basename(path), upload: false };
      go = () => takeFile(services, run, file);
    } else if (typeof datasetId === 'number') {
      const dataset = await Dataset.findByPk(datasetId);
      if (dataset) go = () => prepare(services, run, dataset);
    }
    if (!go) continue;
    await run.update({ status: 'queued', endedAt: null, doing: '', log: [...run.log, TAKEN_UP] });
    going.push(go);
  }
  const work = async () => {
    for (const go of going) await go().catch(() => undefined);
  };
  return { count: going.length, done: work() };
}
