import { z } from 'zod';

/** Groups of work materials (ISO 513). */
export const MATERIAL_GROUPS = ['P', 'M', 'K', 'N', 'S', 'H'] as const;
export type MaterialGroup = (typeof MATERIAL_GROUPS)[number];

export const GROUP_WORDS: Readonly<Record<MaterialGroup, string>> = {
  P: 'steel',
  M: 'stainless steel',
  K: 'cast iron',
  N: 'aluminium, copper and other non-ferrous metals',
  S: 'heat resistant alloys and titanium',
  H: 'hardened steel and cast iron',
};

/** What cuts: carbide, coated carbide, cermet, ceramics, boron nitride, diamond by the letters of ISO 513, and high-speed steel. */
export const CUTTING_MATERIALS = ['HW', 'HC', 'HT', 'CA', 'BN', 'DP', 'HSS'] as const;
export type CuttingMaterial = (typeof CUTTING_MATERIALS)[number];

export const CUTTING_MATERIAL_WORDS: Readonly<Record<CuttingMaterial, string>> = {
  HW: 'carbide, uncoated',
  HC: 'carbide, coated',
  HT: 'cermet',
  CA: 'ceramics',
  BN: 'boron nitride',
  DP: 'diamond',
  HSS: 'high-speed steel',
};

export const COOLANTS = ['dry', 'outside', 'through the tool'] as const;
export type Coolant = (typeof COOLANTS)[number];

/** Of the spindle by its code (ISO 6983): M3 turns clockwise, seen from the spindle towards the work. */
export const SENSES = ['M3', 'M4'] as const;
export type Sense = (typeof SENSES)[number];

/** In one group: surface speed in m/min, feed in mm for each revolution (milling cutters: for each tooth), depth of cut in mm. */
const cuttingValuesSchema = z.object({
  surfaceSpeed: z.number().positive().max(5000).optional(),
  feed: z.number().positive().max(50).optional(),
  depth: z.number().positive().max(200).optional(),
});
export type CuttingValues = z.infer<typeof cuttingValuesSchema>;

/** What somebody said of how a tool is used; what is left out is as usual for its kind. */
export const toolUseSchema = z.object({
  cuttingMaterial: z.enum(CUTTING_MATERIALS).optional(),
  sense: z.enum(SENSES).optional(),
  coolant: z.enum(COOLANTS).optional(),
  groups: z.partialRecord(z.enum(MATERIAL_GROUPS), cuttingValuesSchema).default({}),
});
export type ToolUse = z.infer<typeof toolUseSchema>;

/** Nothing was said. */
export const AS_USUAL: ToolUse = { groups: {} };
