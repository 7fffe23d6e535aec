import { Search } from 'lucide-react';
import { Link } from 'react-router';
import { buttonClass } from '../../controls/index.tsx';
import { useRun } from '../../state/run.ts';

/** From a test that failed to what may have done it. */
export function SuspectsLink() {
  const job = useRun((s) => s.job?.id);
  return (
    <Link to={`/jobs/${job}/prove`} className={buttonClass('plain')}>
      <Search size={20} aria-hidden="true" />
      What may have done it
    </Link>
  );
}
