import { create } from 'zustand';
import type { JobSummary } from '../../core/jobs/index.ts';
import { api, messageOf } from './api.ts';
import { listen } from './live.ts';

interface JobsStore {
  jobs: JobSummary[] | null;
  problem: string | null;
  load: () => Promise<void>;
}

const KEY = 'nibrel.jobs';
/** Lines kept for a start without the server. Origin: own choice; what a bench looks at. */
const KEPT = 60;

function keptJobs(): JobSummary[] | null {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? 'null') as JobSummary[] | null;
    return Array.isArray(kept) ? kept : null;
  } catch {
    return null;
  }
}

/** The list of jobs: asked for once, and kept up by the live stream; without the server, the last that was seen. */
export const useJobs = create<JobsStore>()((set) => ({
  jobs: null,
  problem: null,
  load: async () => {
    try {
      const jobs = await api<JobSummary[]>('/jobs');
      set({ jobs, problem: null });
      localStorage.setItem(KEY, JSON.stringify(jobs.slice(0, KEPT)));
    } catch (error) {
      set(({ jobs }) => ({ jobs: jobs ?? keptJobs(), problem: messageOf(error) }));
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
