import { create } from 'zustand';
import type { JobSummary } from '../../core/jobs/index.ts';
import { api, messageOf } from './api.ts';
import { listen } from './live.ts';

interface JobsStore {
  jobs: JobSummary[] | null;
  problem: string | null;
  load: () => Promise<void>;
}

/** The list of jobs: asked for once, and kept up by the live stream. */
export const useJobs = create<JobsStore>()((set) => ({
  jobs: null,
  problem: null,
  load: async () => {
    try {
      set({ jobs: await api<JobSummary[]>('/jobs'), problem: null });
    } catch (error) {
      set({ problem: messageOf(error) });
    }
  },
}));

/** @returns what ends it */
export function followJobs(): () => void {
  const { load } = useJobs.getState();
  void load();
  return listen((heard) => {
    const { jobs } = useJobs.getState();
    if (heard.kind === 'lost' || (heard.kind === 'up' && jobs === null)) void load();
    if (!jobs) return;
    if (heard.kind === 'job-gone') useJobs.setState({ jobs: jobs.filter((j) => j.id !== heard.job) });
    if (heard.kind === 'job') {
      const others = jobs.filter((j) => j.id !== heard.summary.id);
      useJobs.setState({ jobs: [...others, heard.summary].sort((a, b) => b.number - a.number) });
    }
  });
}
