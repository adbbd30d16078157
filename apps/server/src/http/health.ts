import { monitorEventLoopDelay } from 'node:perf_hooks';
import { type Router } from 'express';

const RESOLUTION_MS = 5;

/** Whether the server is well, and how long its event loop was held up since this was last asked. */
export function healthRoutes(api: Router): void {
  const delay = monitorEventLoopDelay({ resolution: RESOLUTION_MS });
  delay.enable();
  api.get('/health', (_request, response) => {
    const ms = (ns: number) => Number(Math.max(0, ns / 1e6 - RESOLUTION_MS).toFixed(1));
    response.json({
      status: 'ok',
      eventLoopMs: { greatest: ms(delay.max), p99: ms(delay.percentile(99)), mean: ms(delay.mean) },
    });
    delay.reset();
  });
}
