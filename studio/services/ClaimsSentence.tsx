import { X } from 'lucide-react';
import { useState } from 'react';
import { addClaim } from '../../core/app/sign-in.ts';
import type { App, SignIn } from '../../core/app/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEdit } from '../state/studio.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { TextBox } from '../ui/TypedBox.tsx';

/** The keys of a service that follows the usual way are beside it (RFC 8615). */
const PLACEHOLDER = 'https://…/keys';

/** What the token says of whoever has signed in: nothing of it is believed before its signature is checked. */
export function ClaimsSentence({
  signIn,
  change,
}: {
  signIn: SignIn;
  change(label: string, recipe: (s: SignIn) => void): void;
}) {
  const app = useApp();
  const edit = useEdit();
  const [claim, setClaim] = useState('');
  const { claims } = signIn;
  const set = (part: 'keys' | 'issuer' | 'audience', value: string): void =>
    change('Changed how the token is checked', (s) => {
      if (part === 'keys') s.claims!.keys = value;
      else if (value) s.claims![part] = value;
      else delete s.claims![part];
    });
  const add = (): void => {
    const name = claim.trim();
    if (!name) return;
    void edit(`Keeps what the token says as ${name}`, (a) => addClaim(a as App, name));
    setClaim('');
  };
  return (
    <div>
      <p>
        What the token says itself is{' '}
        <ChoiceChip
          name="What the token says"
          value={claims ? 'checked' : 'ignored'}
          choices={[
            { value: 'ignored', label: 'not looked at' },
            { value: 'checked', label: 'believed after its signature was checked' },
          ]}
          onChange={(how) =>
            change(how === 'checked' ? 'The token is checked' : 'What the token says is not looked at', (s) => {
              if (how === 'checked') s.claims = { keys: '', facts: [] };
              else delete s.claims;
            })
          }
        />
        {claims ? ' with the keys at' : '.'}
      </p>
      {claims && (
        <div className="space-y-1.5 pt-1 pb-2">
          <TextBox
            label="Where the keys are"
            className="font-mono text-sm"
            placeholder={PLACEHOLDER}
            value={claims.keys}
            onChange={(v) => set('keys', v.trim())}
          />
          <p>
            It must be given by{' '}
            <span className="inline-block w-52 align-middle">
              <TextBox
                label="Who gives the token"
                placeholder="anybody with these keys"
                value={claims.issuer ?? ''}
                onChange={(v) => set('issuer', v.trim())}
              />
            </span>{' '}
            and be meant for{' '}
            <span className="inline-block w-40 align-middle">
              <TextBox
                label="For whom the token is"
                placeholder="any app"
                value={claims.audience ?? ''}
                onChange={(v) => set('audience', v.trim())}
              />
            </span>
            .
          </p>
          {claims.facts.map((f) => (
            <p key={f.claim}>
              What it says as <code className="rounded bg-sunk px-1 font-mono text-xs">{f.claim}</code> is kept as{' '}
              <ChoiceChip
                name={`Where ${f.claim} is kept`}
                tone="data"
                value={f.variable}
                choices={(app.variables ?? []).filter((v) => !v.screen).map((v) => ({ value: v.id, label: v.name }))}
                onChange={(id) =>
                  change(`Keeps ${f.claim} elsewhere`, (s) => {
                    s.claims!.facts.find((x) => x.claim === f.claim)!.variable = id;
                  })
                }
              />
              <IconButton
                icon={X}
                size={14}
                className="!inline-grid align-middle"
                label={`Keep ${f.claim} no more`}
                onClick={() =>
                  change(`Keeps ${f.claim} no more`, (s) => {
                    s.claims!.facts = s.claims!.facts.filter((x) => x.claim !== f.claim);
                  })
                }
              />
            </p>
          ))}
          <form
            className="flex items-center gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              add();
            }}
          >
            <input
              aria-label="A claim of the token"
              placeholder="sub, name, email, …"
              className="field !w-52"
              value={claim}
              onChange={(e) => setClaim(e.target.value)}
            />
            <Button small type="submit" disabled={!claim.trim()}>
              Keep this claim
            </Button>
          </form>
        </div>
      )}
    </div>
  );
}
