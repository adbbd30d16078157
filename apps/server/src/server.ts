import { mkdirSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import { join } from 'node:path';
import pino, { type Logger } from 'pino';
import { startDatabase, type Database } from './database/mariadb';
import { migrate } from './database/migrations';
import { connect, Project } from './database/models';
import { Demo } from './demo/seed';
import { makeApp } from './http/app';
import { Lists } from './http/lists';
import { classNames } from './features/classes/kept';
import { adopt } from './features/files';
import { accountFor } from './features/report/account';
import { Operations } from './jobs/operations';
import { JobQueue } from './jobs/queue';
import { type Services } from './services';
import { ObjectStore } from './storage';
import { lockFolder } from './storage/folderLock';
import { lookForGridsIn, searchSystems } from '@longheron/formats/crs';
import { sweepObjects, sweepUploads } from './storage/sweep';

/** Uploads without a job are looked for this often. */
const LOOK_FOR_UPLOADS_MS = 60_000;
/** How long a connection without requests stays open. */
const KEEP_IDLE_MS = 120_000;

export interface ServerOptions {
  port: number;
  dataFolder: string;
  /** Address to listen on; loopback unless named. */
  host: string;
  demo: 'full' | 'small' | 'none';
  /** Folders from which files may be picked. */
  roots: string[];
  webFolder: string;
  say: (text: string) => void;
}

export interface RunningServer {
  port: number;
  services: Services;
  http: Server;
  stop(): Promise<void>;
}

/** Starts database, jobs and HTTP; used by the program and by tests. What cannot start leaves nothing running. */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  const { say, dataFolder } = options;
  await portFree(options);
  const unlock = lockFolder(dataFolder);
  try {
    say('Starting the database …');
    const database = await startDatabase(join(dataFolder, 'database'), say);
    try {
      return await started(options, database, unlock);
    } catch (error) {
      await database.stop();
      throw error;
    }
  } catch (error) {
    unlock();
    throw error;
  }
}

/** Fails at once where the port is taken, before anything else is started. */
function portFree({ port, host }: ServerOptions): Promise<void> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(port, host, () => probe.close(() => resolve()));
  });
}

async function started(options: ServerOptions, database: Database, unlock: () => void): Promise<RunningServer> {
  const { say, dataFolder } = options;
  const sequelize = connect(database.port, database.password);
  const made = await migrate(sequelize);
  if (made.length) say(`Tables brought up to date (${made.join(', ')}).`);
  const storeFolder = join(dataFolder, 'store');
  const store = new ObjectStore(storeFolder);
  mkdirSync(join(storeFolder, 'uploads'), { recursive: true });
  const queue = new JobQueue(storeFolder);
  const operations = new Operations(queue, { classNames, account: accountFor });
  // the first question costs a connection; it is asked before anyone waits for the answer
  await Project.findAll({ limit: 1 });
  // so is the list of coordinate systems, 8 MB, which takes a second to read
  searchSystems('utm', 'projected', 1);
  lookForGridsIn(storeFolder);
  const interrupted = await queue.recover();
  if (interrupted) say(`${interrupted} jobs were cut off when the server last stopped; they can be run again.`);
  await sweepUploads(storeFolder);
  const swept = await sweepObjects(storeFolder, async (sha) => JSON.parse(await readFile(store.path(sha), 'utf8')));
  if (swept.objects) say(`${swept.objects} stored objects that nothing refers to any more were removed.`);
  const roots = [...options.roots, join(dataFolder, 'demo')];
  mkdirSync(join(dataFolder, 'demo'), { recursive: true });
  const lists = new Lists();
  lists.watch(sequelize);
  const services: Services = { queue, operations, lists, store, storeFolder, roots };
  const logger: Logger = pino({ level: 'warn' }, pino.destination(join(dataFolder, 'server.log')));
  const demo = new Demo(services, dataFolder, options.demo === 'none' ? 'full' : options.demo, logger);
  const app = makeApp(services, demo, logger, options.host === '127.0.0.1' ? [] : [options.host], options.webFolder);
  const http = createServer(app);
  // a connection that is closed while a request is on its way loses it: browsers let go of idle ones long before this
  http.keepAliveTimeout = KEEP_IDLE_MS;
  http.headersTimeout = KEEP_IDLE_MS + 5000;
  await new Promise<void>((resolve, reject) => {
    http.once('error', reject);
    http.listen(options.port, options.host, resolve);
  });
  const port = (http.address() as { port: number }).port;
  const adopted = await adopt(services);
  if (adopted.count) say(`${adopted.count} files that were accepted before the server stopped are imported now.`);
  // what arrived while the database was away is found too
  const looking = setInterval(
    () => void adopt(services, LOOK_FOR_UPLOADS_MS / 2).catch(() => undefined),
    LOOK_FOR_UPLOADS_MS,
  );
  const seeding = options.demo === 'none' ? Promise.resolve() : adopted.done.then(() => demo.start());
  return {
    port,
    services,
    http,
    async stop() {
      http.close();
      http.closeAllConnections();
      clearInterval(looking);
      await queue.stop();
      await adopted.done.catch(() => undefined);
      await seeding.catch(() => undefined);
      await demo.settled().catch(() => undefined);
      await sequelize.close();
      await database.stop();
      unlock();
    },
  };
}
