/*
 * What is said of cells. V, mAh, mΩ, mm, %, hours and months; a `pairing` is in the anatomy's own words.
 */

/** How a pack is built. */
export type LayoutMessage =
  | { code: 'layout-unknown'; cells: number }
  | { code: 'layout-one' }
  | { code: 'layout-row' | 'layout-beside'; cells: number }
  | { code: 'layout-both'; rows: number; beside: number };

/** Why a reading cannot be true. */
export type ReadingMessage =
  | { code: 'reading-no-number' | 'reading-hours' }
  | { code: 'capacity-cannot-be'; value: number; rated: number; most: number }
  | { code: 'cycles-cannot-be'; value: number; most: number }
  | { code: 'resistance-cannot-be'; value: number; most: number }
  | { code: 'volts-cannot-be'; value: number; layout: LayoutMessage; series: number; most: number };

/** What one measure of a cell says. */
export type FindingMessage =
  | ReadingMessage
  | { code: 'capacity-left'; left: number; rated: number }
  | { code: 'capacity-too-near'; left: number; rated: number; low: number; high: number }
  | { code: 'cycles-made-for'; cycles: number; made: number }
  | { code: 'resistance-told' | 'resistance-doubt' | 'resistance-uncertain'; ohms: number; half: number; fresh: number }
  | { code: 'rest-layout-unknown'; volts: number; cells: number }
  | { code: 'rest-charged'; volts: number; percent: number }
  | {
      code: 'rest-over' | 'rest-perhaps-over' | 'rest-dead' | 'rest-low' | 'rest-perhaps-dead' | 'rest-perhaps-low';
      volts: number;
    }
  | { code: 'self-rose' }
  | { code: 'self-loses' | 'self-tells-nothing'; low: number; high: number }
  | { code: 'self-read-again'; low: number; high: number; hours: number };

/** Why a cell may go back, or may not. */
export type RefitMessage =
  | { code: 'measured-of'; measure: string; finding: FindingMessage }
  | { code: 'cell-is-hurt' | 'insulation-hurt'; mark: string }
  | { code: 'cell-levered' | 'cell-flawless'; removal: string }
  | { code: 'sand-box-with-it' | 'levered-with-metal' | 'house-never-refits' | 'measured-good' | 'nothing-measured' };

/** A new cell beside the old one. */
export type NewCellMessage =
  | { code: 'new-label-odd'; volts: number; cells: number }
  | { code: 'new-layout'; layout: LayoutMessage; device: LayoutMessage }
  | { code: 'new-volts'; volts: number; device: number }
  | { code: 'new-charge-fits' | 'new-charge-over'; volts: number; device: number }
  | {
      code:
        | 'new-compare-charge'
        | 'new-measure-it'
        | 'new-plug-same'
        | 'new-plug-other'
        | 'new-flex-same'
        | 'new-flex-other';
    }
  | { code: 'new-capacity-odd'; value: number; device: number }
  | { code: 'new-capacity'; value: number; percent: number; device: number }
  | { code: 'new-size'; width: number; height: number; bayWidth: number; bayHeight: number }
  | { code: 'new-grows'; by: number }
  | { code: 'new-grown'; thickness: number; grown: number; room: number }
  | { code: 'new-not-made-yet'; made: string }
  | { code: 'new-made'; months: number }
  | { code: 'new-empty' | 'new-as-it-came'; volts: number }
  | { code: 'new-pairing'; item: string; functions: readonly string[]; words: string };

/** What the label of a new cell should say. V, mAh, Wh. */
export type WantedMessage =
  | { code: 'wanted-cell'; volts: number; milliampHours: number; wattHours: number }
  | { code: 'wanted-pack'; volts: number; milliampHours: number; wattHours: number; layout: LayoutMessage };
