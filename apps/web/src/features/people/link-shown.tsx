import { useState } from 'react';
import type { InviteLink } from '@gray-loom/wire';
import { Button } from '../../ui/controls';
import { exactly } from '../../ui/when';

/** A link that is told once, to be copied and sent. */
export function LinkShown({ link, to, onDone }: { link: InviteLink; to: string; onDone: () => void }) {
  const [copied, setCopied] = useState(false);
  const address = `${location.origin}${link.path}`;
  return (
    <section aria-label="Link" className="space-y-2 border-l-2 border-ink bg-cloth px-3 py-2">
      <p>
        Send this link to {to}. It is good once, until {exactly(link.expiresAt)}, and is not shown again.
      </p>
      <div className="flex gap-2">
        <input
          readOnly
          aria-label="Link to send"
          className="field min-w-0 flex-1 font-mono text-[12px]"
          value={address}
          onFocus={(event) => event.target.select()}
        />
        <Button
          kind="action"
          onClick={() =>
            void navigator.clipboard.writeText(address).then(
              () => setCopied(true),
              // Where the page is not served over a secure line the browser copies nothing: it is there to be marked.
              () => document.querySelector<HTMLInputElement>('[aria-label="Link to send"]')?.focus(),
            )
          }
        >
          {copied ? 'Copied' : 'Copy'}
        </Button>
        <Button onClick={onDone}>Done</Button>
      </div>
    </section>
  );
}
