import { execFileSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A disk in memory that is soon full, for trying out what happens then. */
export interface SmallDisk {
  path: string;
  /** Leaves no room but so many bytes. */
  fill: (but?: number) => void;
  /** There is room again. */
  empty: () => void;
  unmount: () => void;
}

/** @returns `null` where this user may mount nothing */
export function smallDisk(megabytes: number): SmallDisk | null {
  const path = mkdtempSync(join(tmpdir(), 'nibrel-full-'));
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m`, 'tmpfs', path], { stdio: 'ignore' });
  } catch {
    rmSync(path, { recursive: true });
    return null;
  }
  const filler = join(path, 'filler');
  return {
    path,
    fill: (but = 0) => {
      const free = Number(execFileSync('df', ['--output=avail', '-B1', path], { encoding: 'utf8' }).split('\n')[1]);
      const file = openSync(filler, 'w');
      try {
        for (let left = Math.max(0, free - but); left > 0; )
          left -= writeSync(file, Buffer.alloc(Math.min(left, 1 << 20)));
      } catch {
        // It is as full as it gets.
      } finally {
        closeSync(file);
      }
    },
    empty: () => rmSync(filler, { force: true }),
    unmount: () => {
      execFileSync('umount', ['-l', path]);
      rmSync(path, { recursive: true, force: true });
    },
  };
}

/** Whether small disks can be made here: by root alone, on most machines. */
export function canMount(): boolean {
  const disk = smallDisk(1);
  disk?.unmount();
  return disk !== null;
}
