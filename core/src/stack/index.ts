export * from './edit-stack.ts';
export * from './stack-schema.ts';
export { stackProfile, type StackProfile } from './stack-profile.ts';
