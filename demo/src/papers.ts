import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { writeCdlFile } from '@gemello/core';
import { TAKES, type Take } from './scenario';

/** A file that the manifest of SALT_02 lists and nobody copied. */
const NEVER_COPIED = 'D002/D002C004_260413.mov';

/** What lies beside the clips on their volumes: a log kept by hand, a hash manifest, a grade from the day of the shoot. */
export function writePapers(media: string): void {
  writeFileSync(path.join(media, 'SALT_01', 'camera_sheets.csv'), sheet());
  mkdirSync(path.join(media, 'SALT_02', 'ascmhl'), { recursive: true });
  writeFileSync(path.join(media, 'SALT_02', 'ascmhl', '0001_SALT_02_2026-04-14.mhl'), manifest(media));
  const grade = { slope: [1.08, 1, 0.92], offset: [0.01, 0, -0.01], power: [1, 1, 1.04], saturation: 0.9 } as const;
  writeFileSync(
    path.join(media, 'SALT_01', 'A011', 'A011C003_260412.cdl'),
    writeCdlFile([
      { id: 'A011C003_260412', cdl: { ...grade, slope: [...grade.slope], offset: [...grade.offset], power: [...grade.power] } },
    ]),
  );
}

const onVolume = (volume: string): Take[] => TAKES.filter((t) => t.folder.startsWith(`${volume}/`));

/** What was written down wrongly: a second too late. */
const MISREAD: Record<string, string> = { A012C003_260413: '10:31:10:07' };

/** Headings that only people understand, a take that was never shot, and a timecode that was misread. */
function sheet(): string {
  const remarks: Record<string, string> = {
    A011C003_260412: 'good from the second rake on',
    A012C004_260413: 'shadow of the stand at the left',
    A013C001_260414: 'last light',
  };
  const rows = onVolume('SALT_01')
    .filter((t) => t.folder !== 'SALT_01/exports')
    .map((t) => [t.clip, MISREAD[t.clip] ?? t.start, t.reel, remarks[t.clip] ?? ''].join(';'));
  return ['Shot;First frame at;Card;Remark', ...rows, 'A012C006_260413;11:31:40:00;A012;camera on its side, no take', ''].join('\n');
}

/** As ASC MHL 2.0 has it. The file that was cut off was whole when its sum was taken. */
function manifest(media: string): string {
  const entry = (file: string, md5: string) => `    <hash><path>${file}</path><md5 action="original">${md5}</md5></hash>`;
  const entries = onVolume('SALT_02')
    .filter((t) => t.writer !== 'dpx')
    .map((t) => {
      const bytes = readFileSync(path.join(media, t.folder, t.file));
      const md5 = createHash('md5').update(bytes);
      return entry(`${t.folder.slice('SALT_02/'.length)}/${t.file}`, (t.trimmed ? md5.update('what was cut off') : md5).digest('hex'));
    });
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<hashlist version="2.0" xmlns="urn:ASC:MHL:v2.0">',
    '  <hashes>',
    ...entries,
    entry(NEVER_COPIED, createHash('md5').update(NEVER_COPIED).digest('hex')),
    '  </hashes>',
    '</hashlist>',
    '',
  ].join('\n');
}
