import { mkdtempSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import { request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApp } from './app.ts';

let folder = '';
let server: Server;
let url = '';

beforeAll(async () => {
  folder = join(mkdtempSync(join(tmpdir(), 'vole-page-')), 'dist');
  mkdirSync(join(folder, 'assets'), { recursive: true });
  writeFileSync(join(folder, 'index.html'), '<title>page</title>');
  writeFileSync(join(folder, 'assets/main-abc.js'), 'main');
  writeFileSync(join(folder, 'assets/watch.worker-abc.js'), 'worker');
  writeFileSync(join(folder, 'assets/watch.worker-abc.js.br'), brotliCompressSync('worker, packed'));
  writeFileSync(join(folder, '..', 'secret.txt'), 'secret');
  server = await new Promise((resolve) => {
    const started = createApp(folder).listen(0, '127.0.0.1', () => resolve(started));
  });
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.close();
  rmSync(join(folder, '..'), { recursive: true });
});

describe('the server', () => {
  it('gives the page for every view, so that addresses can be kept', async () => {
    for (const path of ['/', '/projects', '/project/1/watch', '/index.html']) {
      const response = await fetch(url + path);
      expect(response.status).toBe(200);
      expect(await response.text()).toContain('<title>page</title>');
    }
  });
  it('lets models become code in workers only', async () => {
    const policy = async (path: string): Promise<string> =>
      (await fetch(url + path)).headers.get('content-security-policy')!;
    expect(await policy('/')).toContain("script-src 'self'");
    expect(await policy('/')).not.toContain('unsafe-eval');
    expect(await policy('/assets/main-abc.js')).not.toContain('unsafe-eval');
    expect(await policy('/assets/watch.worker-abc.js')).toContain("'unsafe-eval'");
  });
  it('gives what was packed at the build to those who take it, under the same rules', async () => {
    const asked = (path: string, encoding: string): Promise<Response> =>
      fetch(url + path, { headers: { 'accept-encoding': encoding } });
    const packed = await asked('/assets/watch.worker-abc.js', 'gzip, br');
    expect(packed.headers.get('content-encoding')).toBe('br');
    expect(packed.headers.get('content-security-policy')).toContain("'unsafe-eval'");
    expect(packed.headers.get('cache-control')).toContain('immutable');
    expect(packed.headers.get('content-type')).toContain('javascript');
    expect(await packed.text()).toBe('worker, packed');
    const plain = await asked('/assets/watch.worker-abc.js', 'identity');
    expect(plain.headers.get('content-encoding')).toBeNull();
    expect(await plain.text()).toBe('worker');
    expect((await asked('/assets/main-abc.js', 'br')).headers.get('content-security-policy')).not.toContain(
      'unsafe-eval',
    );
  });
  it('isolates the page, and says nothing of itself', async () => {
    const { headers } = await fetch(url);
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
    expect(headers.get('x-content-type-options')).toBe('nosniff');
    expect(headers.get('x-powered-by')).toBeNull();
  });
  it('keeps built files for long and the page never', async () => {
    expect((await fetch(`${url}/assets/main-abc.js`)).headers.get('cache-control')).toContain('immutable');
    expect((await fetch(url)).headers.get('cache-control')).toBe('no-cache');
  });
  it('says nothing of its inside where an address cannot be read', async () => {
    for (const path of ['/%E0%A4%A', '/assets/%E0%A4%A', '/project/%ff/watch']) {
      const response = await fetch(url + path);
      const text = await response.text();
      expect(text, path).toBe('There is no such address.');
      expect(response.status).toBe(400);
    }
  });
  it('takes no base address, sends no form, and answers no foreign name or page', async () => {
    const policy = (await fetch(url)).headers.get('content-security-policy')!;
    expect(policy).toContain("base-uri 'none'");
    expect(policy).toContain("form-action 'none'");
    const statusWith = (headers: Record<string, string>): Promise<number> =>
      new Promise((resolve, reject) => {
        const { port } = server.address() as AddressInfo;
        request({ host: '127.0.0.1', port, path: '/', headers }, (response) => {
          response.resume();
          resolve(response.statusCode!);
        })
          .on('error', reject)
          .end();
      });
    const { port } = server.address() as AddressInfo;
    expect(await statusWith({ host: `localhost:${port}` })).toBe(200);
    expect(await statusWith({ host: `127.0.0.1:${port}`, origin: `http://localhost:${port}` })).toBe(200);
    expect(await statusWith({ host: 'meadow.invalid' })).toBe(403);
    expect(await statusWith({ host: 'localhost.meadow.invalid' })).toBe(403);
    expect(await statusWith({ host: `localhost:${port}`, origin: 'https://meadow.invalid' })).toBe(403);
    expect(await statusWith({ host: `localhost:${port}`, origin: 'null' })).toBe(403);
  });
  it('has nothing outside its folder, and no file that is not there', async () => {
    expect((await fetch(`${url}/assets/none.js`)).status).toBe(404);
    for (const path of ['/../secret.txt', '/%2e%2e/secret.txt', '/assets/..%2f..%2fsecret.txt']) {
      expect(await (await fetch(url + path)).text()).not.toContain('secret');
    }
  });
});
