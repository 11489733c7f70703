/** What an earlier form of an element or step says, in today's form. What is in today's form comes back as it is. */
export type Upgrade = (stored: Readonly<Record<string, unknown>>) => Record<string, unknown>;

/** The upgrades of the kinds that have had another form, by the name of the kind. */
export interface Upgrades {
  elements: ReadonlyMap<string, { upgrade?: Upgrade }>;
  steps: ReadonlyMap<string, { upgrade?: Upgrade }>;
}

/**
 * A stored document with every element and step in its kind's present form. Nothing is taken for granted of it: the
 * schema is checked afterwards. Inner ones come before those around them.
 */
export function upgraded(stored: unknown, kinds: Upgrades): unknown {
  if (Array.isArray(stored)) return stored.map((x) => upgraded(x, kinds));
  if (typeof stored !== 'object' || stored === null) return stored;
  const inner: Record<string, unknown> = Object.fromEntries(
    Object.entries(stored).map(([key, value]) => [key, upgraded(value, kinds)]),
  );
  const { id, kind, do: step } = inner;
  if (typeof id !== 'string') return inner;
  const known =
    id.startsWith('e_') && typeof kind === 'string'
      ? kinds.elements.get(kind)
      : id.startsWith('p_') && typeof step === 'string'
        ? kinds.steps.get(step)
        : undefined;
  return known?.upgrade ? known.upgrade(inner) : inner;
}
