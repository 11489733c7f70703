import type { Field, Table } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { chooseOwnPicture } from '../ui/own-picture.ts';

/** The picture that places are put on; it is kept with the app. */
export function PlanPicture({ table, field }: { table: Table; field: Field }) {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const file = app.files.find((f) => `file:${f.id}` === field.plan);
  const choose = async (): Promise<void> => {
    const picture = await chooseOwnPicture();
    if (!picture) return;
    void edit(`Gave ${field.name} a plan`, (a) => {
      a.files.push(picture);
      const f = a.tables.find((t) => t.id === table.id)!.fields.find((x) => x.id === field.id)!;
      f.plan = `file:${picture.id}`;
    });
  };
  const pictures = app.files.filter((f) => f.type.startsWith('image/'));
  return (
    <div className="mt-1 flex items-start gap-4">
      <p className="sentence">
        Places are put on{' '}
        <ChoiceChip
          name="Plan"
          value={field.plan ?? null}
          empty="choose a plan"
          choices={pictures.map((f) => ({ value: `file:${f.id}`, label: f.name }))}
          onChange={(plan) =>
            void edit(`Gave ${field.name} a plan`, (a) => {
              a.tables.find((t) => t.id === table.id)!.fields.find((x) => x.id === field.id)!.plan = plan;
            })
          }
        />{' '}
        or{' '}
        <Button small onClick={() => void choose()}>
          a picture from this computer
        </Button>
      </p>
      {file && (
        <img
          src={`data:${file.type};base64,${file.data}`}
          alt={file.name}
          className="max-h-28 rounded-md border border-line"
        />
      )}
    </div>
  );
}
