import { useMay, useSeesAll, type Role } from '../app/may';
import { forwardRef, type ButtonHTMLAttributes, type ReactNode } from 'react';

type Kind = 'action' | 'plain' | 'quiet' | 'danger';

const KINDS: Record<Kind, string> = {
  action: 'bg-action text-onaction border-action font-semibold hover:opacity-90',
  plain: 'bg-page border-strong font-semibold hover:bg-cloth',
  quiet: 'border-transparent hover:bg-wash',
  danger: 'bg-page border-strong text-alarm font-semibold hover:bg-alarmwash',
};

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  kind?: Kind;
  keys?: string;
  busy?: boolean;
  /** Only who has this role sees it. */
  needs?: Role;
  /** Only who sees everybody sees it. */
  wholeBook?: boolean;
}

/** A button with a plain verb, and its key where it has one. */
export const Button = forwardRef<HTMLButtonElement, ButtonProps>(function Button(
  { kind = 'plain', keys, busy, needs, wholeBook = false, children, className = '', disabled, ...rest },
  ref,
) {
  const seesAll = useSeesAll();
  if (!useMay(needs) || (wholeBook && !seesAll)) return null;
  return (
    <button
      ref={ref}
      type="button"
      disabled={disabled || busy}
      aria-busy={busy || undefined}
      className={
        `inline-flex min-h-7 items-center gap-2 rounded-loom border px-2.5 py-1 whitespace-nowrap ` +
        `disabled:cursor-default disabled:opacity-50 ${KINDS[kind]} ${className}`
      }
      {...rest}
    >
      {children}
      {keys ? (
        // A telephone has no keys to press.
        <span className="max-sm:hidden">
          <Kbd dim={kind === 'action'}>{keys}</Kbd>
        </span>
      ) : null}
    </button>
  );
});

export function Kbd({ children, dim = false }: { children: ReactNode; dim?: boolean }) {
  return (
    <kbd
      className={`rounded-[2px] border px-1 font-mono text-[11px] leading-4 ${dim ? 'border-current opacity-70' : 'border-strong bg-cloth text-ink2'}`}
    >
      {children}
    </kbd>
  );
}

/** A text that stands for a state: nothing here yet, something went wrong, or work under way. */
export function Notice({
  title,
  children,
  tone = 'calm',
}: {
  title: string;
  children?: ReactNode;
  tone?: 'calm' | 'alarm';
}) {
  return (
    <div role={tone === 'alarm' ? 'alert' : 'status'} className="mx-auto max-w-md px-6 py-14 text-center">
      <p className={`text-[15px] font-semibold ${tone === 'alarm' ? 'text-alarm' : ''}`}>{title}</p>
      {children ? <div className="mt-2 text-ink2">{children}</div> : null}
    </div>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="px-4 py-6 text-ink3">
      Loading {what}…
    </p>
  );
}

export function Failed({ error, retry }: { error: unknown; retry?: () => void }) {
  return (
    <Notice title="This could not be loaded" tone="alarm">
      <p>{error instanceof Error ? error.message : 'Something went wrong.'}</p>
      {retry ? (
        <p className="mt-3">
          <Button onClick={retry}>Try again</Button>
        </p>
      ) : null}
    </Notice>
  );
}

/** What went wrong with the last thing somebody did, beside it. */
export function Fault({ error, onClose }: { error: unknown; onClose?: () => void }) {
  if (!error) return null;
  return (
    <div role="alert" className="flex items-start gap-3 border-b border-hair bg-alarmwash px-4 py-2 text-alarm">
      <p className="flex-1">{error instanceof Error ? error.message : String(error)}</p>
      {onClose ? (
        <button type="button" className="link" onClick={onClose}>
          Close
        </button>
      ) : null}
    </div>
  );
}

/** A section heading with hairline. */
export function Heading({ children, aside }: { children: ReactNode; aside?: ReactNode }) {
  return (
    <div className="flex items-baseline gap-3 border-b border-strong pb-1">
      <h2 className="text-[15px] font-semibold">{children}</h2>
      {aside ? <span className="ml-auto text-ink3">{aside}</span> : null}
    </div>
  );
}
