import { useEffect, useState } from 'react';
import type { Step } from '../../../core/dive/index.ts';
import { stepAt, type RunContext, type RunState } from '../../../core/run/index.ts';
import { useRun } from '../../state/run.ts';
import { useStable } from '../../state/useStable.ts';
import type { PanelKind } from './Panels.tsx';

/** What of a run is looked at, and how. */
export interface RunView {
  total: number;
  /** The place of the step that the run stands at; of the last one when it is finished. */
  standing: number;
  /** The place of the step that is looked at, and whether it was chosen and is not the one stood at. */
  n: number;
  chosen: number | null;
  step: Step | null;
  panel: PanelKind | null;
  mirror: boolean;
  oneLayer: boolean;
  /** The whole dive lies over the screen. */
  whole: boolean;
  /** A photograph of the way in lies over the screen. */
  picture: boolean;
  showPicture: (shown: boolean) => void;
  /** Looks at a step by its place; `null`: at the one stood at. */
  choose: (place: number | null) => void;
  chooseStep: (id: string) => void;
  /** Follows the run once a step is done. */
  follow: () => void;
  open: (panel: PanelKind | null) => void;
  toggleMirror: () => void;
  toggleLayers: () => void;
  showWhole: (shown: boolean) => void;
}

export function useRunView(context: RunContext, state: RunState): RunView {
  const dismiss = useRun((s) => s.dismiss);
  const [chosen, setChosen] = useState<number | null>(null);
  const [panel, setPanel] = useState<PanelKind | null>(null);
  const [mirror, setMirror] = useState(false);
  const [oneLayer, setOneLayer] = useState(false);
  const [whole, setWhole] = useState(false);
  const [picture, setPicture] = useState(false);
  const total = context.plan.steps.length;
  const standing = (state.cursor !== null && context.steps.get(state.cursor)?.n) || total;
  const n = chosen ?? standing;
  const choose = useStable((to: number | null) => {
    dismiss();
    setPanel(null);
    setMirror(false);
    setChosen(to === null || to === standing ? null : Math.min(total, Math.max(1, to)));
  });
  // When the run moves on, here or on another screen, the view goes along.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the step reached is what moves the view
  useEffect(() => {
    setMirror(false);
    setPicture(false);
  }, [standing]);
  return {
    total,
    standing,
    n,
    chosen,
    step: stepAt(context, n) ?? null,
    panel,
    mirror,
    oneLayer,
    whole,
    picture,
    showPicture: setPicture,
    choose,
    chooseStep: useStable((id: string) => choose(context.steps.get(id)?.n ?? null)),
    follow: useStable(() => setChosen(null)),
    open: setPanel,
    toggleMirror: useStable(() => setMirror((on) => !on)),
    toggleLayers: useStable(() => setOneLayer((on) => !on)),
    showWhole: setWhole,
  };
}
