import { monitorEventLoopDelay } from 'node:perf_hooks';
import { type Router } from 'express';
import { Project } from '../database/models';

const RESOLUTION_MS = 5;
/** A database that takes longer is taken not to answer. */
const DATABASE_MS = 2000;

/** Whether the server is well, and how long its event loop was held up since this was last asked. */
export function healthRoutes(api: Router): void {
  const delay = monitorEventLoopDelay({ resolution: RESOLUTION_MS });
  delay.enable();
  api.get('/health', async (_request, response) => {
    const database = await Promise.race([
      Project.sequelize!.authenticate().then(
        () => true,
        () => false,
      ),
      new Promise<boolean>((resolve) => setTimeout(() => resolve(false), DATABASE_MS)),
    ]);
    const ms = (ns: number) => Number(Math.max(0, ns / 1e6 - RESOLUTION_MS).toFixed(1));
    response.status(database ? 200 : 503).json({
      status: database ? 'ok' : 'the database does not answer',
      eventLoopMs: { greatest: ms(delay.max), p99: ms(delay.percentile(99)), mean: ms(delay.mean) },
    });
    delay.reset();
  });
}
