/** How the two sides of a condition are compared. Apart from the schemas, so that a phone has it without them. */
export const CONDITION_OPS = [
  'is',
  'is not',
  'over',
  'under',
  'at least',
  'at most',
  'contains',
  'is empty',
  'is filled',
  'holds',
] as const;
