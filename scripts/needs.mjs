// What the tests need beside npm's packages: two programs of the system, and the reference library of PyPI.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { root } from './install.mjs';

const has = (program) =>
  spawnSync(program, [program === 'mediainfo' ? '--Version' : '-version'], { stdio: 'ignore', timeout: 20_000 }).error === undefined;

function aptInstall(packages) {
  const [command, ...first] = process.getuid?.() === 0 ? ['apt-get'] : ['sudo', '-n', 'apt-get'];
  const apt = (...args) =>
    spawnSync(command, [...first, ...args], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  // Another install may be going on, and a server may hang up once.
  for (let left = 2; left > 0; left--) {
    apt('update', '-q');
    if (apt('-o', 'DPkg::Lock::Timeout=300', 'install', '-y', '-q', '--no-install-recommends', ...packages).status === 0) return;
  }
}

function giveUp(line) {
  console.error(line);
  process.exit(1);
}

/** These check what was read, written and measured; chromium is driven as a person would. */
function programs() {
  const wanted = [
    ['ffprobe', 'ffmpeg'],
    ['chromium', 'chromium'],
    ['mediainfo', 'mediainfo'],
    ['exiftool', 'libimage-exiftool-perl'],
    ['exrheader', 'openexr'],
    ['iinfo', 'openimageio-tools'],
    ['xxhsum', 'xxhash'],
    ['pdftotext', 'poppler-utils'],
  ];
  const missing = () => wanted.filter(([program]) => !process.env[program.toUpperCase()] && !has(program)).map(([, name]) => name);
  if (missing().length > 0) aptInstall(missing());
  if (missing().length > 0)
    giveUp(`The tests need ${missing().join(' and ')} from the system's packages: apt-get install ${missing().join(' ')}`);
}

/** The Python reference library of the open timeline format with its adapters, another parser of edit lists, one that registers pictures, and one of colour; tests only. */
const REFERENCE = [
  'opentimelineio==0.18.1',
  'otio-cmx3600-adapter==1.0.0',
  'opentimelineio-plugins==0.18.1',
  'pycmx==1.5.1',
  'opencv-python-headless==4.11.0.86',
  'opencolorio==2.6.0',
  'pyaaf2==1.7.1',
  'otio-aaf-adapter==2.0.0',
  'olefile==0.47',
];

function referenceLibrary() {
  const stamp = path.join(root, '.venv', 'installed.txt');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === REFERENCE.join('\n')) return;
  const quiet = { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] };
  const venv = () => spawnSync('python3', ['-m', 'venv', '.venv'], quiet).status === 0;
  if (!venv()) {
    aptInstall(['python3', 'python3-venv']);
    if (!venv()) giveUp('The tests need python3 with its venv module: apt-get install python3 python3-venv');
  }
  const python = path.join(root, '.venv', 'bin', 'python');
  const { status } = spawnSync(python, ['-m', 'pip', 'install', '-q', '--disable-pip-version-check', ...REFERENCE], quiet);
  if (status !== 0) giveUp(`The tests need these packages from PyPI: ${REFERENCE.join(' ')}`);
  writeFileSync(stamp, REFERENCE.join('\n'));
}

/** Real pictures for the fault laboratory: the movies of a Debian package, and photographs of one from PyPI. Neither is ever committed. */
export function installPictures() {
  const movies = '/usr/share/doc/opencv-doc/examples/data';
  if (!existsSync(movies)) aptInstall(['opencv-doc']);
  if (!existsSync(movies)) giveUp("The fault laboratory needs opencv-doc from the system's packages: apt-get install opencv-doc");
  const folder = path.join(root, '.venv', 'photographs');
  const photographs = path.join(folder, 'skimage', 'data');
  if (!existsSync(photographs)) {
    referenceLibrary();
    const python = path.join(root, '.venv', 'bin', 'python');
    const wanted = ['-m', 'pip', 'install', '-q', '--disable-pip-version-check', '--no-deps', '--target', folder, 'scikit-image==0.26.0'];
    spawnSync(python, wanted, { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
  }
  if (!existsSync(photographs)) giveUp('The fault laboratory needs scikit-image from PyPI.');
  return { MOVIES: movies, PHOTOGRAPHS: photographs };
}

/** Lists that others made, with movies rendered from them: the sample files of the open timeline library and its adapters (PyPI). Never committed. */
function installCollection() {
  const folder = path.join(root, '.venv', 'outside');
  if (existsSync(path.join(folder, 'index.json'))) return;
  const python = path.join(root, '.venv', 'bin', 'python');
  const { status } = spawnSync(python, [path.join('core', 'test', 'outside_fetch.py'), folder], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (status !== 0) giveUp('The tests need the source archives of the open timeline library and its adapters from PyPI.');
}

/** A program of PyPI that asks a server, by its OpenAPI, what nobody thought of; in a folder of its own, for `npm run soak` alone. */
export function installAsker() {
  const folder = path.join(root, '.venv', 'asker');
  const program = path.join(folder, 'bin', 'st');
  if (existsSync(program)) return program;
  referenceLibrary();
  const quiet = { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] };
  spawnSync('python3', ['-m', 'venv', folder], quiet);
  spawnSync(path.join(folder, 'bin', 'pip'), ['install', '-q', '--disable-pip-version-check', 'schemathesis==4.32.5'], quiet);
  if (!existsSync(program)) giveUp('The soak needs schemathesis from PyPI.');
  return program;
}

export function installNeeds() {
  programs();
  referenceLibrary();
  installCollection();
  return installPictures();
}
