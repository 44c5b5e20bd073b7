import type { ReactNode } from "react";
import type { Place } from "../../api/client";

export interface PipeStage {
  at: Place;
  name: string;
  rating: string;
  /** What it could deliver at the pack now, A. */
  couldA: number;
  /** What that means, in a few words. */
  foot: string;
  pinch: boolean;
  /** What stands under the name: its values, changed in place. */
  fields?: ReactNode;
}

export interface ChainProps {
  stages: PipeStage[];
  /** A load across the pack. */
  tee?: PipeStage | undefined;
  widestA: number;
  narrowestA: number;
  flowA: number;
  flowWords: string;
  open: Place | undefined;
  onOpen: (place: Place) => void;
  dimmed: boolean;
  /** Whether none of the figures belong to what stands in the fields. */
  unknown?: boolean;
  /** Whether a question withholds the settings: the chain is drawn as far as it is known, without a figure. */
  withheld?: boolean | undefined;
}
