import type { ThreadKind } from '@gray-loom/wire';

export const THREAD_NAMES: Record<ThreadKind, string> = {
  file: 'File',
  hand: 'By hand',
  addressBook: 'Address book',
  dialer: 'Dialer',
  mailer: 'Mailer',
  form: 'Form',
  inbox: 'Inbox',
  rule: 'Rule or capture',
};

export const THREAD_COLOURS: Record<ThreadKind, string> = {
  file: 'var(--walnut)',
  hand: 'var(--iron)',
  addressBook: 'var(--woad)',
  dialer: 'var(--madder)',
  mailer: 'var(--logwood)',
  form: 'var(--lichen)',
  inbox: 'var(--weld)',
  rule: 'var(--cochineal)',
};

function pattern(kind: ThreadKind) {
  switch (kind) {
    case 'file':
      return <path d="M0 3.5h15" strokeWidth="2" />;
    case 'hand':
      return <path d="M1 3.5h14" strokeWidth="2.2" strokeDasharray="0.1 4.3" strokeLinecap="round" />;
    case 'addressBook':
      return <path d="M0 3.5h15" strokeWidth="2.4" strokeDasharray="4 1.6" />;
    case 'dialer':
      return <path d="M0 1.8h15M0 5.2h15" strokeWidth="1.5" />;
    case 'mailer':
      return <path d="M0 5 2.5 2 5 5 7.5 2 10 5 12.5 2 15 5" strokeWidth="1.6" fill="none" strokeLinejoin="round" />;
    case 'form':
      return <path d="M0 3.5h15" strokeWidth="2.2" strokeDasharray="5 1.8 1.6 1.8" />;
    case 'inbox':
      return <path d="M1.5 1v5M5 1v5M8.5 1v5M12 1v5" strokeWidth="1.8" />;
    case 'rule':
      return (
        <>
          <path d="M0 3.5h15" strokeWidth="1.2" />
          <path d="M4.5 3.5h6" strokeWidth="5" />
        </>
      );
  }
}

/** How many looks the thread of a connection can have, so that two of one kind are told apart. */
export const LOOKS = 4;
const LOOK_COLOURS = [null, 'var(--tag7)', 'var(--tag2)', 'var(--tag4)'];
const LOOK_DASHES = ['', '8 1.6', '4 1.2 1.2 1.2 1.2 1.2', '2.4 1 2.4 3'];

/** Colour and dashes of a thread, for lines of any length. */
export function threadLine(kind: ThreadKind, look = 0): { stroke: string; strokeDasharray: string } {
  return {
    stroke: LOOK_COLOURS[look % LOOKS] ?? THREAD_COLOURS[kind],
    strokeDasharray: LOOK_DASHES[look % LOOKS] || '4 1.6',
  };
}

/** Where a value comes from, by colour and by pattern, so that it can be told without colour. */
export function ThreadSwatch({ kind, look = 0, title }: { kind: ThreadKind; look?: number; title?: string }) {
  const line = threadLine(kind, look);
  return (
    <svg
      width="15"
      height="7"
      viewBox="0 0 15 7"
      role="img"
      aria-label={title ?? THREAD_NAMES[kind]}
      className="inline-block shrink-0 align-middle"
      stroke={line.stroke}
    >
      <title>{title ?? THREAD_NAMES[kind]}</title>
      {look % LOOKS ? <path d="M0 3.5h15" strokeWidth="2.4" strokeDasharray={line.strokeDasharray} /> : pattern(kind)}
    </svg>
  );
}

/** A vertical or horizontal line in a thread's colour and pattern, for the match board. */
export function threadBorder(kind: ThreadKind, side: 'left' | 'bottom'): React.CSSProperties {
  const colour = THREAD_COLOURS[kind];
  const style: Record<ThreadKind, string> = {
    file: 'solid',
    hand: 'dotted',
    addressBook: 'dashed',
    dialer: 'double',
    mailer: 'groove',
    form: 'dashed',
    inbox: 'dotted',
    rule: 'ridge',
  };
  const width = side === 'left' ? 5 : 3;
  return side === 'left'
    ? { borderLeft: `${width}px ${style[kind]} ${colour}` }
    : { borderBottom: `${width}px ${style[kind]} ${colour}` };
}
