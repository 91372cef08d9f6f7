import { spawn } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { createApp } from './app.ts';

const DEFAULT_PORT = 4823;
const page = join(dirname(fileURLToPath(import.meta.url)), '../../web/dist');

const port = Number(process.env.PORT ?? DEFAULT_PORT);
if (!Number.isInteger(port) || port < 0 || port > 65535) {
  console.error(`PORT must be a whole number from 0 to 65535, not “${process.env.PORT}”.`);
  process.exit(2);
}

// The loopback only: the page works on this machine's own data and nobody else is meant to reach it.
const server = createApp(page).listen(port, '127.0.0.1', (error?: Error) => {
  if (error) return;
  const address = server.address();
  const url = `http://localhost:${typeof address === 'object' && address ? address.port : port}`;
  console.log(`Vole Parade is open at ${url}   (Ctrl C ends it)`);
  openInBrowser(url);
});

server.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EADDRINUSE')
    console.error(`Port ${port} is taken. Close what uses it, or choose another: PORT=${port + 1} npm start`);
  else console.error(`The server could not start: ${error.message}`);
  process.exit(1);
});

for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    server.close();
    server.closeAllConnections();
    process.exit(0);
  });
}

/** On a machine with a screen the page opens by itself; without one the address is enough. */
function openInBrowser(url: string): void {
  if (process.env.CI || (process.platform === 'linux' && !process.env.DISPLAY && !process.env.WAYLAND_DISPLAY)) return;
  const command = process.platform === 'darwin' ? 'open' : process.platform === 'win32' ? 'explorer' : 'xdg-open';
  spawn(command, [url], { stdio: 'ignore', detached: true }).on('error', () => undefined);
}
