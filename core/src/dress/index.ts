export * from './catmullClark.ts';
