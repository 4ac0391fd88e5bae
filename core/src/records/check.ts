import { z } from 'zod';

export const checkSchema = z.object({
  code: z.string(),
  state: z.enum(['pass', 'warn', 'fail']),
  message: z.string(),
  value: z.number().optional(),
  limit: z.number().optional(),
});
export type Check = z.infer<typeof checkSchema>;
