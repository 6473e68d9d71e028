export const WORKSPACES: Record<string, string[]>;
export const CORE_FOLDERS: Record<string, string[]>;
export function resolveImport(root: string, file: string, spec: string): string | null;
export function arrowProblem(root: string, file: string, spec: string): string | null;
export function cycleThrough(root: string, file: string, first: string): boolean;
declare const plugin: { rules: Record<string, unknown> };
export default plugin;
