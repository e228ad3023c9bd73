export * from './cut/index.ts';
export { GephyraError } from './errors.ts';
export * from './formats/index.ts';
export * from './joints/index.ts';
export * from './mesh/index.ts';
export * from './plan/index.ts';
export * from './repair/index.ts';
export * from './solid/index.ts';
