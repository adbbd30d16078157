import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import 'reflect-metadata';
import { fullDisk, isFullDisk, roomMb } from './storage/fullDisk';
import { startServer } from './server';

const HELP = `./start: Long Heron with its own database, on this machine

  --port N          port (default 4670)
  --data FOLDER     where data lives (default ./data)
  --files FOLDER    a folder from which files may be picked in the browser (may be repeated)
  --host NAME       listen beyond loopback, under this name or address
  --without-demo    no demo project
  --small-demo      the demo project with a few ten thousand points, ready in seconds
  --help            this text

Ctrl-C stops everything. Data stay; the next start goes on where this one ended.
`;

/** A stop that takes longer is cut short. */
const LONGEST_STOP_MS = 9000;
/** With less than this on the disk a start fails for that reason, MB. */
const MIN_MB = 20;

async function main(): Promise<void> {
  let values;
  try {
    ({ values } = parseArgs({
      options: {
        port: { type: 'string' },
        data: { type: 'string' },
        files: { type: 'string', multiple: true },
        host: { type: 'string' },
        'without-demo': { type: 'boolean' },
        'small-demo': { type: 'boolean' },
        help: { type: 'boolean', short: 'h' },
      },
    }));
  } catch (error) {
    process.stderr.write(`${(error as Error).message}\n\n${HELP}`);
    process.exit(2);
  }
  if (values.help) {
    process.stdout.write(HELP);
    return;
  }
  const say = (text: string) => process.stdout.write(`${text}\n`);
  const root = process.env.LONGHERON_ROOT ?? process.cwd();
  const port = Number(values.port ?? 4670);
  if (!Number.isInteger(port) || port < 0 || port > 65535) {
    process.stderr.write(`--port is "${values.port}"; a number from 1 to 65535 is needed.\n`);
    process.exit(2);
  }
  const host = values.host ?? '127.0.0.1';
  const dataFolder = resolve(values.data ?? join(root, 'data'));
  if (!['127.0.0.1', 'localhost', '::1'].includes(host))
    say(
      `Listening on ${host}: there are no accounts yet, so everyone who reaches this address can see and change everything.`,
    );
  const server = await startServer({
    port,
    host,
    dataFolder,
    roots: (values.files ?? []).map((f) => resolve(f)),
    webFolder: join(root, 'dist/web'),
    demo: values['without-demo'] ? 'none' : values['small-demo'] ? 'small' : 'full',
    say,
  }).catch(async (error: NodeJS.ErrnoException) => {
    const taken = `Port ${port} is taken. Choose another with --port, or stop what runs there.`;
    const full = isFullDisk(error) || ((await roomMb(dataFolder)) ?? Infinity) < MIN_MB;
    const { message, remedy } = await fullDisk(dataFolder, 'start again');
    const words = error.code === 'EADDRINUSE' ? taken : full ? `${message} ${dataFolder}: ${remedy}` : error.message;
    process.stderr.write(`${words}\n`);
    process.exit(1);
  });
  say(`Long Heron is at http://${host === '127.0.0.1' ? 'localhost' : host}:${server.port}`);
  if (!values['without-demo'])
    say('On a first start the demo project fills itself: watch its work in progress in the browser.');
  let stopping = false;
  const stop = async () => {
    // asked twice, it goes at once; the next start tidies up
    if (stopping) process.exit(1);
    stopping = true;
    say('\nStopping …');
    setTimeout(() => {
      say('This takes too long; what is running is left to the next start.');
      process.exit(1);
    }, LONGEST_STOP_MS).unref();
    await server.stop();
    process.exit(0);
  };
  process.on('SIGINT', () => void stop());
  process.on('SIGTERM', () => void stop());
}

void main();
