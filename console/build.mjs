// Builds the console for the service's jar: install, types, check, test, build. Does nothing when no input has changed.
import { createHash } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const here = import.meta.dirname;
const skipTests = process.argv.includes('--skip-tests');
const OPENAPI = join(here, '../service/src/main/resources/openapi.yaml');
const OUT = join(here, 'target/classes/static');
const STAMP = join(here, `target/console.${skipTests ? 'built' : 'tested'}`);

function* files(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) => a.name.localeCompare(b.name))) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* files(path);
    else if (entry.name !== 'schema.d.ts') yield path;
  }
}

function digest(paths) {
  const hash = createHash('sha256');
  for (const path of paths) hash.update(path).update(readFileSync(path));
  return hash.digest('hex');
}

const run = (command, ...args) => execFileSync(command, args, { cwd: here, stdio: 'inherit' });
const read = (path) => (existsSync(path) ? readFileSync(path, 'utf8') : '');

const lock = digest([join(here, 'package-lock.json'), join(here, 'package.json')]);
const all =
  digest([...files(join(here, 'src')), ...files(join(here, 'public')), join(here, 'index.html'), join(here, 'vite.config.ts'), OPENAPI]) +
  lock;

if (read(STAMP) === all && existsSync(join(OUT, 'index.html'))) {
  console.log('The console is built already.');
} else {
  const installed = join(here, 'node_modules/.servitor-lock');
  if (read(installed) !== lock) {
    run('npm', 'ci', '--ignore-scripts', '--no-audit', '--no-fund');
    writeFileSync(installed, lock);
  }
  run('npm', 'run', '--silent', 'types');
  if (!skipTests) {
    run('npm', 'run', '--silent', 'lint');
    run('npm', 'run', '--silent', 'check');
    run('npm', 'run', '--silent', 'test');
  }
  rmSync(OUT, { recursive: true, force: true });
  run('npm', 'run', '--silent', 'build');
  mkdirSync(join(here, 'target'), { recursive: true });
  writeFileSync(STAMP, all);
}
