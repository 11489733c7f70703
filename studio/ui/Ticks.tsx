/** Some of several, each with a tick. */
export function Ticks({
  label,
  of,
  on,
  change,
}: {
  label: string;
  of: readonly (readonly [id: string, name: string])[];
  on: ReadonlySet<string>;
  change(on: ReadonlySet<string>): void;
}) {
  return (
    <fieldset className="thin-scroll max-h-72 overflow-auto p-2" aria-label={label}>
      {of.map(([id, name]) => (
        <label key={id} className="flex min-h-[30px] cursor-pointer items-center gap-2 rounded-md px-2 hover:bg-sunk">
          <input
            type="checkbox"
            className="size-4 accent-kelp"
            checked={on.has(id)}
            onChange={(e) => {
              const next = new Set(on);
              if (e.target.checked) next.add(id);
              else next.delete(id);
              change(next);
            }}
          />
          {name}
        </label>
      ))}
    </fieldset>
  );
}
