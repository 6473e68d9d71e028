export * from './export.ts';
export * from './glb.ts';
export * from './limits.ts';
export * from './obj.ts';
export * from './pack.ts';
export * from './projectFile.ts';
export * from './stl.ts';
export * from './svg.ts';
