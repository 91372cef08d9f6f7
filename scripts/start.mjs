import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { root } from './prepare.mjs';
import './build.mjs';

const server = spawn(process.execPath, [join(root, 'packages/server/dist/server.mjs')], {
  cwd: root,
  stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
