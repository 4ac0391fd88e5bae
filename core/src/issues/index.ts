export * from './issue.ts';
export { type IssueCode, issueTexts } from './issue-texts.ts';
export { sayFew } from './say-few.ts';
