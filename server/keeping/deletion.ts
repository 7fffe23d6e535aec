import type { Jobs } from '../jobs.ts';
import type { Photos } from '../photos.ts';
import type { Journal } from './journal.ts';

interface Facts {
  job: string;
  reason: string;
  by: string;
  photos: string[];
}

/** Photographs that are looked at for nothing naming them any more, days after they came. Origin: own choice; a tablet's outbox. */
const UNNAMED_DAYS = 30;

/** What goes for good: jobs with their photographs, and photographs that nothing shows. */
export class Deletion {
  constructor(
    private readonly jobs: Jobs,
    private readonly photos: Photos,
    private readonly journal: Journal,
  ) {
    journal.add<Facts>({
      kind: 'deletion',
      steps: [
        { name: 'rows', run: ({ job, reason, by }) => jobs.removeRows(job, reason, by) },
        { name: 'photographs', run: ({ photos: shown }) => photos.forget(shown) },
      ],
      left: ({ job, photos: shown }) => {
        if (jobs.has(job)) return 'the job is still there';
        return photos.leftOver(shown).length > 0 ? 'photographs of it are left' : null;
      },
    });
    journal.add<string[]>({
      kind: 'photographs',
      steps: [{ name: 'files', run: (hashes) => photos.forget(hashes) }],
      left: (hashes) => (photos.leftOver(hashes).length > 0 ? 'photographs are left' : null),
    });
  }

  /** Deletes a job with all that was recorded on it. @throws Problem 404 */
  async remove(job: string, reason: string, by: string): Promise<void> {
    this.jobs.get(job);
    const facts: Facts = { job, reason, by, photos: this.jobs.photosOf([job]) };
    await this.journal.begin('deletion', `deletion ${job}`, facts);
  }

  /** Photographs that came late for somebody who was erased. */
  async late(photos: readonly string[]): Promise<void> {
    const gone = this.photos.leftOver(photos);
    if (gone.length > 0) await this.journal.begin('photographs', `photographs ${gone[0]}`, gone);
  }

  /** Photographs that nothing has shown for long. @param now ms since the epoch, of a clock that is not in doubt */
  async unnamed(now: number): Promise<number> {
    const gone = this.photos.unnamed(new Date(now - UNNAMED_DAYS * 86_400_000).toISOString());
    if (gone.length > 0) await this.journal.begin('photographs', 'photographs unnamed', gone);
    return gone.length;
  }
}
