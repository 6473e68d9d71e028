import type * as THREE from 'three';

/** A pointer in the view: pixels from its upper left corner, the ray that it means, and the keys held. */
export interface At {
  x: number;
  y: number;
  ray: THREE.Ray;
  shiftKey: boolean;
  altKey: boolean;
  ctrlKey: boolean;
  metaKey: boolean;
}

/** One thing that a pressed pointer can do; the view asks each in turn whether a press is its own. */
export interface Gesture {
  /** Takes hold with a press; whether it did. If none does, the press turns the view. */
  begin(at: At): boolean;
  move(at: At): void;
  /** Ends the drag: its result is kept, or taken back. `still` when the pointer has hardly moved since the press. */
  end(keep: boolean, at: At | null, still: boolean): void;
}
