import { existsSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { makeBackup, proveBackup, type BackupReport } from '../server/keeping/backup.ts';
import { restoreBackup, unpackBackup } from '../server/keeping/restore.ts';
import { verifyData, type Verified } from '../server/keeping/verify.ts';
import { buildCatalogue, INDEX, type Catalogue } from '../server/catalogue.ts';
import { DataFault } from '../server/db/fault.ts';
import { holdFolder } from '../server/lock.ts';
import type { Fault } from '../core/anatomy/index.ts';
import { Stop } from './usage.ts';

const root = fileURLToPath(new URL('..', import.meta.url));

/** The shop's folder: as asked for, as configured, else where the server looks for it. */
const folderOf = (asked: string | undefined): string => resolve(asked ?? process.env.NIBREL_DATA ?? join(root, 'data'));

/** @throws Stop 1 with a sentence that says what is wrong */
async function told<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Stop) throw error;
    if (error instanceof DataFault) throw new Stop(1, error.message);
    const { code, message } = error as NodeJS.ErrnoException;
    const full = code === 'ENOSPC' ? 'the disk is full; make room, or choose another place' : message;
    throw new Stop(1, full);
  }
}

/** All of the shop's data in one file, while the server runs or not. */
export async function backup(file: string, data: string | undefined): Promise<{ report: BackupReport; text: string }> {
  const folder = folderOf(data);
  if (!existsSync(join(folder, 'nibrel.sqlite'))) {
    throw new Stop(1, `there is no shop in ${folder}; name its folder with --data or NIBREL_DATA`);
  }
  const report = await told(() => makeBackup(folder, resolve(file)));
  const missing = report.missing > 0 ? `; ${report.missing} photographs are missing in the folder` : '';
  const text = `${report.file}: ${(report.bytes / 1e6).toFixed(1)} MB, ${report.photos} photographs${missing}`;
  return { report, text };
}

/** Puts a backup in the place of the shop's data, once it is proved whole. */
export async function restore(
  file: string,
  data: string | undefined,
): Promise<{ report: { data: string; kept: string | null; madeAt: string }; text: string }> {
  const folder = folderOf(data);
  const { kept, manifest } = await told(async () => {
    // Proved before anything of the shop is touched, and nobody else may be at work on what is replaced.
    await proveBackup(resolve(file));
    const letGo = holdFolder(folder);
    try {
      return await restoreBackup(resolve(file), folder);
    } finally {
      letGo();
    }
  });
  const before = kept ? `; what was there before is in ${kept}` : '';
  const text = `${folder} is as it was on ${manifest.madeAt}${before}`;
  return { report: { data: folder, kept, madeAt: manifest.madeAt }, text };
}

/**
 * Looks at a shop's data, or at a backup, piece by piece.
 * @returns what was looked at, and each fault in a line
 */
export async function verify(
  path: string | undefined,
  data: string | undefined,
): Promise<{ report: Verified; text: string }> {
  const report = await told(async () => {
    if (path === undefined) {
      const folder = folderOf(data);
      if (!existsSync(join(folder, 'nibrel.sqlite')))
        throw new Stop(1, `there is no shop in ${folder}; name its folder with --data or NIBREL_DATA`);
      return verifyData(folder);
    }
    const work = await mkdtemp(join(tmpdir(), 'nibrel-verify-'));
    try {
      await unpackBackup(resolve(path), join(work, 'data'));
      return await verifyData(join(work, 'data'));
    } finally {
      await rm(work, { recursive: true, force: true });
    }
  });
  const { jobs, events, photos, faults } = report;
  const lines = faults.map(({ where, fault }) => `${where}: ${fault}`);
  const damage = faults.length === 0 ? 'all as written' : `${faults.length} damaged`;
  const sum = `${jobs} jobs, ${events} events, ${photos} photographs: ${damage}`;
  return { report, text: [...lines, sum].join('\n') };
}

/** The index of a folder of bundles, written into it. Bundles that are not sound are left out and told. */
export async function catalogue(folder: string): Promise<{ report: Catalogue; faults: Fault[]; text: string }> {
  if (!existsSync(folder)) throw new Stop(2, `there is no folder ${folder}`);
  const { catalogue: report, faults } = await told(() => buildCatalogue(resolve(folder)));
  const lines = report.bundles.map(
    (b) => `${b.file}  ${b.device.maker} ${b.device.name}, revision ${b.device.revision}, by ${b.shop.name}`,
  );
  return { report, faults, text: [...lines, `${join(folder, INDEX)}: ${report.bundles.length} devices`].join('\n') };
}
