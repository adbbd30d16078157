import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express } from 'express';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import { type Logger } from 'pino';
import { datasetRoutes } from '../features/datasets';
import { fileRoutes } from '../features/files';
import { markRoutes } from '../features/marks';
import { noticeRoutes } from '../features/notices';
import { gridRoutes } from '../features/grids';
import { projectRoutes, type DemoMaker } from '../features/projects';
import { reportRoutes } from '../features/report';
import { recipeRoutes } from '../features/recipes';
import { rasterRoutes } from '../features/rasters';
import { runRoutes } from '../features/runs';
import { stationRoutes } from '../features/stations';
import { editRoutes } from '../features/edits';
import { cameraRoutes } from '../features/cameras';
import { photographRoutes } from '../features/photographs';
import { pickRoutes } from '../features/picks';
import { madePickRoutes } from '../features/picks/made';
import { measuredRoutes } from '../features/measured';
import { lookRoutes } from '../features/looks';
import { classRoutes } from '../features/classes';
import { outlineRoutes } from '../features/outlines';
import { platformRoutes } from '../features/platforms';
import { sheetRoutes } from '../features/sheets';
import { viewRoutes } from '../features/views';
import { styleRoutes } from '../features/styles';
import { systemRoutes } from '../features/systems';
import { type Services } from '../services';
import { errorHandler, HttpError } from './errors';
import { guardHosts } from './guard';
import { healthRoutes } from './health';

/** The HTTP application: API under /api, the built web pages beside it. */
export function makeApp(
  services: Services,
  demo: DemoMaker,
  logger: Logger,
  hosts: string[],
  webFolder: string,
): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(pinoHttp({ logger, autoLogging: false }));
  app.use(guardHosts(hosts));
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          workerSrc: ["'self'", 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          connectSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          frameAncestors: ["'self'"],
        },
      },
      strictTransportSecurity: false,
      crossOriginEmbedderPolicy: false,
    }),
  );
  const api = express.Router();
  fileRoutes(api, services);
  reportRoutes(api, services);
  api.use(express.json({ limit: '2mb' }));
  projectRoutes(api, services, demo);
  datasetRoutes(api, services);
  markRoutes(api, services);
  noticeRoutes(api, services);
  runRoutes(api, services);
  recipeRoutes(api, services);
  rasterRoutes(api, services);
  systemRoutes(api);
  stationRoutes(api, services);
  styleRoutes(api);
  viewRoutes(api);
  editRoutes(api, services);
  platformRoutes(api, services);
  sheetRoutes(api, services);
  pickRoutes(api, services);
  madePickRoutes(api, services);
  photographRoutes(api, services);
  cameraRoutes(api, services);
  outlineRoutes(api, services);
  classRoutes(api, services);
  lookRoutes(api, services);
  gridRoutes(api);
  measuredRoutes(api, services);
  healthRoutes(api);
  api.use(() => {
    throw new HttpError(404, 'There is nothing at this address.', { code: 'not-found' });
  });
  app.use('/api', api);
  if (existsSync(join(webFolder, 'index.html'))) {
    app.use(
      express.static(webFolder, {
        index: false,
        maxAge: '1h',
        setHeaders: (r, p) => {
          if (/assets/.test(p)) r.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
        },
      }),
    );
    app.get('/{*rest}', (_request, response) => {
      response.setHeader('Cache-Control', 'no-cache');
      response.sendFile(join(webFolder, 'index.html'));
    });
  }
  app.use(errorHandler(services.storeFolder));
  return app;
}
