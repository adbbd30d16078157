import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type Router } from 'express';
import { type PlatformDto } from '@longheron/contract/api';
import { KeepPlatform } from '@longheron/contract/requests';
import { mountingToJson, parseMounting, type Mounting } from '@longheron/core/frames';
import { mountingText } from '@longheron/formats/mounting';
import { Platform } from '../../database/models';
import { bodyOf, idOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { type Services } from '../../services';
import { heldOf } from '../datasets/find';
import { takeOne } from '../files';
import { projectOf } from '../projects';

const dto = (p: Platform): PlatformDto => {
  return {
    id: Number(p.id),
    name: p.name,
    version: p.version,
    note: p.note,
    project: p.project,
    createdAt: p.createdAt.toISOString(),
    sensors: Object.entries(p.content.sensors).map(([name, s]) => ({ name, serial: s.serial ?? null })),
    mounting: p.content,
  };
};

/** Vehicles and what is mounted on them, kept once under a name for all projects; each change is a version. */
export function platformRoutes(api: Router, services: Services): void {
  api.get('/platforms', async (_request, response) => {
    const all = await Platform.findAll({
      order: [
        ['name', 'ASC'],
        ['version', 'DESC'],
      ],
    });
    response.json(all.map(dto));
  });

  /** Keeps a project's mounting as the next version under a name; the same content is not kept twice. */
  api.post('/projects/:projectId/datasets/:id/platform', async (request, response) => {
    const project = await projectOf(request);
    const held = await heldOf(request, Number(project.id), 'mounting', 'This dataset is no mounting.');
    const { name, note } = bodyOf(request, KeepPlatform);
    const content = mountingToJson(parseMounting(held.content.mounting));
    const last = await Platform.findOne({ where: { name }, order: [['version', 'DESC']] });
    if (last && JSON.stringify(asMounting(last)) === JSON.stringify(parseMounting(content)))
      throw new HttpError(409, `This is version ${last.version} of "${name}" already.`, { code: 'platform-same' });
    const kept = await Platform.create({
      name,
      version: (last?.version ?? 0) + 1,
      note: note ?? '',
      project: project.name,
      content,
      createdAt: new Date(),
    });
    response.status(201).json(dto(kept));
  });

  /** Takes a version into a project, as a mounting file of its own. */
  api.post('/projects/:projectId/platforms/:id', async (request, response) => {
    const project = await projectOf(request);
    const platform = await platformOf(idOf(request));
    const folder = join(services.storeFolder, 'uploads');
    await mkdir(folder, { recursive: true });
    const path = join(folder, `platform-${project.id}-${Date.now()}`);
    await writeFile(path, mountingText(asMounting(platform)));
    const file = `${platform.name.replace(/[^\p{L}\p{N} _.-]+/gu, '_')}, version ${platform.version}.json`;
    const taken = await takeOne(services, Number(project.id), path, file, true);
    response.status(201).json({ dataset: Number(taken?.id ?? 0), name: taken?.name ?? file });
  });

  api.delete('/platforms/:id', async (request, response) => {
    await (await platformOf(idOf(request))).destroy();
    response.status(204).end();
  });
}

const asMounting = (p: Platform): Mounting => parseMounting(p.content);

async function platformOf(id: number): Promise<Platform> {
  const platform = await Platform.findByPk(id);
  if (!platform) throw new HttpError(404, 'The library has no such entry.', { code: 'not-found' });
  return platform;
}
