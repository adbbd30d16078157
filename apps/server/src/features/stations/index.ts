import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { type Request, type Router } from 'express';
import { type StationDto } from '@longheron/contract/api';
import { FetchStation } from '@longheron/contract/requests';
import { rankBases } from '@longheron/core/gnss';
import { Problem } from '@longheron/core/shared';
import { dayOfYear, gpsDay } from '@longheron/core/time';
import { parseSystem } from '@longheron/formats/crs';
import { SITE_DEFAULTS } from '@longheron/site/files';
import { serviceStations, virtualPlace } from '@longheron/site/stations';
import { SITE_SYSTEM } from '@longheron/site/terrain';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { type Services } from '../../services';
import { heldOf } from '../datasets/find';
import { takeOne } from '../files';
import { projectOf } from '../projects';

/** Asked for this much more on both sides of a span, seconds. */
const MARGIN_S = 60;

interface Span {
  startGps: number;
  endGps: number;
  place: [number, number, number];
}

/** Span and place of a rover's recording. */
async function spanOf(request: Request, projectId: number): Promise<Span> {
  const refusal = 'This dataset holds no GNSS observations.';
  const { facts } = (await heldOf(request, projectId, 'gnss-observations', refusal)).content;
  if (!facts.extent)
    throw new Problem('The rover’s file states no position, so no stations near it can be named.', {
      code: 'station-place',
      remedy: 'Export it with its approximate position.',
    });
  return { startGps: facts.startGps ?? 0, endGps: facts.endGps ?? 0, place: facts.extent.min };
}

/** The simulated reference-station service: stations near a session with what they hold, and their observations. */
export function stationRoutes(api: Router, services: Services): void {
  const system = parseSystem(SITE_SYSTEM);

  api.get('/projects/:projectId/datasets/:id/stations', async (request, response) => {
    const project = await projectOf(request);
    const span = await spanOf(request, Number(project.id));
    const stations = serviceStations(system);
    const { ranked } = rankBases(
      span,
      stations.map((s, id) => {
        const held = s.holdings;
        const gaps = held.slice(1).map((h, k) => ({ startGps: held[k].endGps, endGps: h.startGps }));
        const place = [s.lonDeg, s.latDeg, s.hEllM] as const;
        const [startGps, endGps] = held.length ? [held[0].startGps, held[held.length - 1].endGps] : [0, 0];
        return { id, name: s.code, place, startGps, endGps, gaps, rateHz: s.rateHz, antenna: s.antenna };
      }),
    );
    const out: StationDto[] = ranked.map((r) => ({
      code: r.name,
      distanceM: r.distanceM ?? 0,
      cover: r.cover,
      rateHz: r.rateHz ?? 1,
      antenna: r.antenna.trim(),
    }));
    response.json(out);
  });

  /** Hands out the observations of a station, or of a virtual one, for the span of a session, as a file taken in. */
  api.post('/projects/:projectId/datasets/:id/stations', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const span = await spanOf(request, projectId);
    const { code } = bodyOf(request, FetchStation);
    const virtual = code === 'VIRTUAL' ? virtualPlace(span.place[1], span.place[0], span.place[2]) : undefined;
    if (!virtual && !serviceStations(system).some((s) => s.code === code))
      throw new HttpError(404, `The service has no station ${code}.`, { code: 'not-found', field: 'code' });
    const day = gpsDay(span.startGps);
    const doy = String(dayOfYear(new Date(`${day}T00:00:00Z`))).padStart(3, '0');
    const name = `${virtual ? 'virt' : code.toLowerCase()}_${day.slice(0, 4)}${doy}.rnx`;
    const folder = join(services.storeFolder, 'uploads');
    await mkdir(folder, { recursive: true });
    const path = join(folder, `station-${projectId}-${Date.now()}`);
    response.status(202).json({ name });
    try {
      const { run } = await services.queue.background(projectId, 'stations', `Fetch ${name}`, 'station', {
        path,
        request: {
          ...(virtual ? { virtual } : { code }),
          startGps: span.startGps - MARGIN_S,
          endGps: span.endGps + MARGIN_S,
          seed: SITE_DEFAULTS.seed,
          factor: 1,
        },
      });
      await services.queue.succeed(run, []);
      await takeOne(services, projectId, path, name, true);
    } catch {
      // the job says what failed
    }
  });
}
