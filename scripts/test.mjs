// `npm test`: installs what tests need, builds, runs unit tests, then the flows in a real browser.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { build, install, project } from './prepare.mjs';

const at = (path) => join(project, path);
const CHROMIUM = process.env.TONOS_CHROMIUM ?? '/usr/bin/chromium';
const RESULTS = at('.tonos-test.json');

const runs = (command, args, options = {}) =>
  spawnSync(command, args, { cwd: project, stdio: 'inherit', ...options }).status === 0;
const read = (path) => (existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : undefined);

/** Installs Debian's packages, where there is a Debian and the right to. */
function installed(packages) {
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) return false;
  console.error(`Installing ${packages.join(', ')} for the tests ...`);
  const quiet = { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }, stdio: ['ignore', 'ignore', 'inherit'] };
  const install = () => runs('apt-get', ['install', '-y', '-q', ...packages], quiet);
  return install() || (runs('apt-get', ['update', '-q'], quiet) && install());
}

/** Debian's Chromium, where it is missing and may be installed; otherwise says what to do. */
function browserIsThere() {
  if (existsSync(CHROMIUM)) return true;
  if (installed(['chromium'])) return true;
  console.error(
    `The interface tests need Chromium at ${CHROMIUM}: install Debian's package "chromium" (apt-get install chromium, as root), or set TONOS_CHROMIUM to the path of one.`,
  );
  return false;
}

/** Independent encoders, decoders and meters that our own are held to. */
const PEERS = ['ffmpeg', 'flac', 'opus-tools'];

/** Installs them where that may be done. No test is left out for want of one: without them nothing is tested. */
function peersAreThere() {
  const missing = PEERS.filter((name) => !existsSync(`/usr/bin/${name === 'opus-tools' ? 'opusinfo' : name}`));
  if (!missing.length || installed(missing)) return true;
  console.error(`The tests need ${missing.join(', ')}: install Debian\u2019s packages of these names, as root.`);
  return false;
}

/** The queue by which machines are told of work. Where it can\u2019t be had, what needs it is left out, and that is said. */
function queueIsThere() {
  if (existsSync('/usr/bin/redis-server') || installed(['redis-server'])) return true;
  console.error('Debian\u2019s package "redis-server" is not here: the tests of the queue are left out.');
  return false;
}

const NOTHING_TESTED = { passed: 0, failed: 1 };

function unitTests() {
  const report = at('.tonos-unit.json');
  rmSync(report, { force: true });
  runs(process.execPath, [
    '--experimental-vm-modules',
    '--no-warnings',
    at('node_modules/jest/bin/jest.js'),
    '--json',
    `--outputFile=${report}`,
    ...(queueIsThere() ? [] : ['--testPathIgnorePatterns', '/node_modules/', 'machines/redis\\.test']),
  ]);
  const result = read(report);
  rmSync(report, { force: true });
  return result
    ? {
        passed: result.numPassedTests,
        // a test that was skipped has not held
        failed: result.numFailedTests + result.numPendingTests + result.numRuntimeErrorTestSuites,
      }
    : { passed: 0, failed: 1 };
}

function flows() {
  if (!browserIsThere()) return { passed: 0, failed: 1 };
  const report = at('packages/e2e/.out/report.json');
  rmSync(report, { force: true });
  mkdirSync(at('packages/e2e/.out'), { recursive: true });
  runs(
    process.execPath,
    ['--import', 'tsx', '--conditions=source', at('node_modules/@playwright/test/cli.js'), 'test'],
    { cwd: at('packages/e2e') },
  );
  const stats = read(report)?.stats;
  return stats
    ? { passed: stats.expected, failed: stats.unexpected + stats.flaky + stats.skipped }
    : { passed: 0, failed: 1 };
}

install();
build();
const [unit, interface_] = peersAreThere() ? [unitTests(), flows()] : [NOTHING_TESTED, NOTHING_TESTED];
const passed = unit.passed + interface_.passed;
const failed = unit.failed + interface_.failed;
writeFileSync(RESULTS, JSON.stringify({ passed, failed }));
console.log(
  `Unit tests: ${unit.passed} passed, ${unit.failed} failed. Flows: ${interface_.passed} passed, ${interface_.failed} failed.`,
);
process.exitCode = failed ? 1 : 0;
