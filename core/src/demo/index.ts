export * from './skerryLight.ts';
