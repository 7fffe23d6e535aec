import { useEffect, useState } from 'react';
import type { Extra, Plan } from '../../../core/dive/index.ts';
import type { Model } from '../../../core/anatomy/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, ProblemNote, Progress } from '../../controls/index.tsx';
import { messageOf } from '../../state/api.ts';
import { planAnew } from '../../state/planAnew.ts';
import { extrasInWorker } from '../../workers/planner.ts';

/** What any other part would take on this dive, against a dive of its own. */
export function WhileThere({ plan, model, begun }: { plan: Plan; model: Model; begun: boolean }) {
  const [extras, setExtras] = useState<Extra[] | null>(null);
  const [asked, setAsked] = useState(false);
  const [share, setShare] = useState(0);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    if (!asked) return;
    const work = extrasInWorker(model.anatomy, plan, setShare);
    work.result.then(setExtras, (error) => setProblem(messageOf(error))).finally(() => setAsked(false));
    return work.cancel;
  }, [asked, plan, model]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another plan asks anew
  useEffect(() => {
    setExtras(null);
    setAsked(false);
  }, [plan]);
  const add = async (part: string) => {
    try {
      await planAnew({ replace: [...plan.replace, part] });
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <section aria-labelledby="there" className="panel p-5">
      <h2 id="there" className="mb-1 text-xl font-semibold">
        While you are in there
      </h2>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      {!extras && !asked && (
        <>
          <p className="mb-2 text-quiet">What any other part would take on this dive, against a dive of its own.</p>
          <Button
            onClick={() => {
              setShare(0);
              setAsked(true);
            }}
          >
            Work it out
          </Button>
        </>
      )}
      {!extras && asked && <Progress share={share} label="Dives planned" stop={() => setAsked(false)} />}
      {extras && (
        <table className="w-full text-left" data-testid="extras">
          <thead className="text-sm text-quiet">
            <tr>
              <th scope="col" className="font-normal">
                Part
              </th>
              <th scope="col" className="text-right font-normal">
                more here
              </th>
              <th scope="col" className="text-right font-normal">
                by itself
              </th>
              {!begun && (
                <th scope="col">
                  <span className="sr-only">Add</span>
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {extras.map((e) => (
              <tr key={e.part} className="border-t border-line">
                <th scope="row" className="py-1 font-normal">
                  {model.nameOf(e.part)}
                </th>
                <td className={`num text-right ${e.extra < e.alone * 0.25 ? 'font-bold text-moss' : ''}`}>
                  {minutes(e.extra)}
                </td>
                <td className="num text-right text-quiet">{minutes(e.alone)}</td>
                {!begun && (
                  <td className="text-right">
                    <Button
                      weight="quiet"
                      aria-label={`Add ${model.nameOf(e.part)} to this dive`}
                      onClick={() => void add(e.part)}
                    >
                      Add
                    </Button>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
