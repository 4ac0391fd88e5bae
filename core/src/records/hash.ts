import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';

/** SHA-256 of bytes as 64 hex digits: the address of a blob. */
export const hashBytes = (bytes: Uint8Array): string => bytesToHex(sha256(bytes));

/** SHA-256 of a plain value, whatever the order of its keys: the key of derived data. */
export const hashPlain = (value: unknown): string => hashBytes(new TextEncoder().encode(canonical(value)));

function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`;
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
  const entries = Object.entries(value as Record<string, unknown>).filter(([, v]) => v !== undefined);
  return `{${entries
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([k, v]) => `${JSON.stringify(k)}:${canonical(v)}`)
    .join(',')}}`;
}
