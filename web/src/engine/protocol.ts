import type { Fit } from '@dusky-mason/core/carve';
import type { CourseResult, Part, Pick, Project, Shape } from '@dusky-mason/core/courses';
import type { ChainHeadroom, ChainRoom } from '@dusky-mason/core/dress';
import type { ExportOptions, SlotLook } from '@dusky-mason/core/formats';
import type { ElementKind, Grab, PickAct, PickShape } from '@dusky-mason/core/mend';
import type { RenderBuffers, TreeArrays, Vec3 } from '@dusky-mason/core/mesh';
import type { Outline, Sketch } from '@dusky-mason/core/shapes';
import type {
  FaceMeasures,
  Furthest,
  Gauged,
  LookName,
  LookValues,
  RuleName,
  Severity,
  ShownFinding,
  SurveyCounts,
  WallLeft,
} from '@dusky-mason/core/survey';

/** What the page asks of a worker. Meshes stay in the worker; the page gets pictures of them and numbers. */
export type Ask =
  | { kind: 'store'; hash: string; bytes: Uint8Array }
  /** A mesh that is kept in this browser: the worker reads it itself. */
  | { kind: 'load'; hash: string }
  /** `moving` is the number of a cutter, or of a course, that is being dragged. */
  | { kind: 'evaluate'; part: Part; have: string; moving?: number; cancel: Int32Array | null }
  /** The dry fit of a cut; asked for once the picture is there, so that it never waits for it. */
  | { kind: 'fit'; part: Part; course: number; moving?: number; others: Part[]; cancel: Int32Array | null }
  | { kind: 'shape'; shape: Shape }
  /** The plane of a face of a part as it stands, with what lies on it. */
  | { kind: 'face'; part: Part; face: number }
  /** A closed run laid on a part along a direction, as lines. */
  | { kind: 'drape'; part: Part; run: Vec3[]; direction: Vec3 }
  /** What the survey finds; with the rules that take longer when it is `deep`. */
  | { kind: 'survey'; part: Part; deep: boolean; cancel: Int32Array | null }
  /** Whether parts are fit to be sent, part by part. */
  | { kind: 'verdict'; parts: Part[]; cancel: Int32Array | null }
  /** What a part is like all over, for its picture. */
  | { kind: 'look'; part: Part; look: LookName }
  /** A part subdivided so many times, with the lines of its cage alone, and how far it is from the guide surface. */
  | { kind: 'subdivided'; part: Part; levels: number }
  /** What a part was like at one state, beside what it was at another, and how far they are from each other. */
  | { kind: 'compare'; part: Part; before: PartState; after: PartState; cancel: Int32Array | null }
  /** A face and the material below a place on it. */
  | { kind: 'measure'; part: Part; face: number; point: Vec3 }
  /** The thinnest wall beside what a course made. */
  | { kind: 'wall'; part: Part; course: number }
  /** How round the wall is that a face belongs to. */
  | { kind: 'gauge'; part: Part; face: number }
  /** How wide the bevel of a course can get, chain by chain. */
  | { kind: 'headroom'; part: Part; course: number; only: 'least' | 'all'; cancel: Int32Array | null }
  /** The same, and how wide it can get on most of each chain's length. */
  | { kind: 'lengthRooms'; part: Part; course: number; cancel: Int32Array | null }
  /** What is picked after a change, and how it is drawn. */
  | { kind: 'pick'; part: Part; on: ElementKind; ids: Int32Array; act: PickAct }
  /**
   * The edges that a line over the part stops at, as a course keeps them, and where on them; of a path drawn freehand
   * where it crosses edges, within so many mm of a vertex through it.
   */
  | { kind: 'line'; part: Part; places: { face: number; point: Vec3 }[]; freehand?: number }
  /** What of a face can be dragged at a place: a vertex along its edges, or an end of a tie. */
  | { kind: 'grab'; part: Part; what: 'vertex' | 'tie'; face: number; point: Vec3 }
  /** Finds a kept pick in the part as it stands. */
  | { kind: 'resolve'; part: Part; pick: Pick }
  /** What is picked of a part, as a course keeps it. */
  | { kind: 'pickOf'; part: Part; on: ElementKind; ids: Int32Array }
  /** The findings as a table and as data, for files. */
  | { kind: 'report'; part: Part; deep: boolean }
  /** A part's result at a course, as a mesh to be stored. */
  | { kind: 'freeze'; part: Part; course: number }
  /** The results of parts as one mesh to be stored; or one result as a mesh for each connected piece. */
  | { kind: 'join'; parts: Part[] }
  | { kind: 'pieces'; part: Part }
  /** A part's result in a few lines, as SVG path data in a box of 0 … 100: for a list. */
  | { kind: 'drawing'; part: Part }
  /** A part's result, centred on the middle of its box, with its line picture: for the rack. */
  | { kind: 'keep'; part: Part }
  | { kind: 'export'; parts: Part[]; options: ExportOptions; looks: readonly SlotLook[] }
  /** The bytes are handed over: they are no longer the page’s. So are those of a drawing and of a project. */
  | { kind: 'import'; name: string; bytes: Uint8Array; cancel: Int32Array | null }
  | { kind: 'readDrawing'; bytes: Uint8Array }
  | { kind: 'readProject'; bytes: Uint8Array }
  | { kind: 'writeProject'; project: Project; thumbnail?: Uint8Array }
  /** A document that need not be valid, as it lies, with meshes as they are kept. */
  | { kind: 'writeRaw'; document: unknown; meshes: PackedMesh[] };

/** What stands in the way of sending a part. */
export interface PartVerdict {
  part: number;
  /** What a receiver would stumble over, the gravest first. */
  findings: { rule: RuleName; title: string; count: number; severity: Severity }[];
  /** Whether all was checked: of a very large part crossings are not. */
  whole: boolean;
  /** What a course says that could not be done; empty where all is done. */
  problem: string;
}

/** A part as it is at a course, or as it was when it was kept: a mesh by its hash. */
export type PartState = { course: number } | { kept: string };

/** How far the shading of a part departs from its guide surface, degrees. */
export interface ShadingState {
  worst: number;
  mean: number;
}

/** The triangles and lines of a part, and which course made the face of each triangle. */
export interface PartPicture extends RenderBuffers {
  courseOfTriangle: Int32Array;
  /** For rays; null where there are so few triangles that each may be tried. */
  tree: TreeArrays | null;
  /** How far the box round it reaches to each side of its origin, and how far its furthest point is, mm. */
  half: Vec3;
  radius: number;
  /** Names of the slots. */
  slots: readonly string[];
}

/** A mesh to be stored, and the hash of its content. */
export interface PackedMesh {
  hash: string;
  bytes: Uint8Array;
}

export interface EvaluateAnswer {
  kind: 'evaluate';
  key: string;
  courses: CourseResult[];
  counts: SurveyCounts;
  ms: number;
  /** null when the page has this picture already. */
  picture: PartPicture | null;
}

export type Answer =
  | EvaluateAnswer
  | { kind: 'store' }
  | { kind: 'load'; found: boolean }
  | { kind: 'shape'; picture: RenderBuffers; size: [number, number, number]; centre: [number, number, number] }
  | { kind: 'fit'; fits: Fit[] }
  | { kind: 'face'; sketch: Sketch }
  | { kind: 'drawing'; lines: string }
  | { kind: 'readDrawing'; outlines: Outline[]; warnings: string[] }
  | { kind: 'drape'; lines: Float64Array }
  | { kind: 'survey'; key: string; findings: ShownFinding[] }
  | { kind: 'verdict'; parts: PartVerdict[] }
  | ({ kind: 'look'; key: string } & LookValues)
  | { kind: 'subdivided'; picture: PartPicture; faces: number; off: LookValues }
  | {
      kind: 'compare';
      /** Before, and after where that is not the part as it stands. */
      picture: PartPicture;
      now: PartPicture | null;
      before: SurveyCounts;
      after: SurveyCounts;
      shading: { before: ShadingState; after: ShadingState } | null;
      gone: Furthest | null;
      come: Furthest | null;
      /** At each place how far the other state is, on one scale; of large parts it is not measured. */
      heat: { before: LookValues; after: LookValues } | null;
    }
  | ({ kind: 'measure' } & FaceMeasures)
  | { kind: 'wall'; wall: WallLeft | null }
  | { kind: 'gauge'; gauged: Gauged & { faces: number } }
  | { kind: 'headroom'; chains: ChainHeadroom[] | null }
  | { kind: 'lengthRooms'; chains: ChainRoom[] | null }
  | ({ kind: 'pick'; key: string; on: ElementKind; ids: Int32Array; face: number | null } & PickShape)
  | { kind: 'pickOf'; pick: Pick }
  | { kind: 'grab'; grab: Grab | null }
  | { kind: 'line'; pick: Pick; stops: [number, number][] }
  | { kind: 'resolve'; ids: Int32Array; lost: number; of: number }
  | { kind: 'report'; csv: string; table: string; json: string }
  /** What is written comes as a file, so that the page copies nothing. */
  | { kind: 'export'; file: Blob }
  /** Meshes that were made are kept in this browser, and found by their hashes. */
  | { kind: 'freeze' | 'join'; hash: string }
  | { kind: 'pieces'; hashes: string[] }
  | ({ kind: 'keep'; picture: string } & PackedMesh)
  | { kind: 'import'; hash: string; faces: number; warnings: string[] }
  /** `left` says, a sentence each, what of the file could not be read. */
  | { kind: 'readProject'; project: Project; left: string[] }
  | { kind: 'writeProject' | 'writeRaw'; file: Blob };

export type AnswerTo<A extends Ask> = Answer extends infer B
  ? B extends { kind: infer K }
    ? A['kind'] extends K
      ? B
      : never
    : never
  : never;

/** What a worker says: answers, and on the way which course it has begun and how far it is. */
export type FromWorker =
  | { id: number; answer: Answer }
  | { id: number; error: { code: string; message: string } }
  | { id: number; begun: { course: number; name: string } }
  | { id: number; progress: { fraction: number; stage: string } };

export interface ToWorker {
  id: number;
  ask: Ask;
  /** The parts that cutters may be linked to. */
  parts: readonly Part[];
}
