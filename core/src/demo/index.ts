export * from './skerryLight.ts';
export * from './casting.ts';
