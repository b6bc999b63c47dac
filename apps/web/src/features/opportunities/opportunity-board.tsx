import {
  DndContext,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import type { Opportunity, StageTotal } from '@gray-loom/wire';
import { showValue, type Pipeline } from '@gray-loom/core/fields';
import { count } from '../../ui/when';
import { sumsInWords } from './money';

interface BoardProps {
  pipeline: Pipeline;
  rows: readonly Opportunity[];
  totals: readonly StageTotal[];
  pickedId: number | null;
  onPick: (id: number) => void;
  onMove: (opportunity: Opportunity, stage: string) => void;
}

const GROUNDS = { open: '', won: 'bg-picked', lost: 'bg-wash' } as const;

/**
 * The stages of a pipeline side by side. A card is dragged to another stage, or moved by Shift with an arrow key while it has
 * the focus.
 */
export function OpportunityBoard({ pipeline, rows, totals, pickedId, onPick, onMove }: BoardProps) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const end = ({ active, over }: DragEndEvent) => {
    const moved = rows.find(({ id }) => id === active.id);
    if (moved && over && over.id !== moved.stage) onMove(moved, String(over.id));
  };
  const known = new Set(pipeline.stages.map(({ label }) => label));
  const elsewhere = rows.filter(({ stage }) => !known.has(stage));
  return (
    <DndContext sensors={sensors} onDragEnd={end}>
      <div
        className="flex min-h-0 flex-1 overflow-x-auto bg-cloth"
        tabIndex={0}
        aria-label={`Stages of ${pipeline.name}`}
      >
        {pipeline.stages.map((stage, at) => {
          const total = totals.find((one) => one.stage === stage.label);
          return (
            <Column
              key={stage.label}
              id={stage.label}
              title={stage.label}
              meaning={stage.meaning}
              ground={GROUNDS[stage.outcome]}
              n={total?.count ?? 0}
              sum={sumsInWords(total?.sums ?? [])}
            >
              {rows
                .filter((one) => one.stage === stage.label)
                .map((one) => (
                  <Card
                    key={one.id}
                    opportunity={one}
                    picked={one.id === pickedId}
                    onPick={() => onPick(one.id)}
                    onStep={(by) => {
                      const next = pipeline.stages[at + by];
                      if (next) onMove(one, next.label);
                    }}
                  />
                ))}
            </Column>
          );
        })}
        {elsewhere.length ? (
          <Column id="" title="Stages that are gone" meaning="" ground="" n={elsewhere.length} sum="">
            {elsewhere.map((one) => (
              <Card
                key={one.id}
                opportunity={one}
                picked={one.id === pickedId}
                onPick={() => onPick(one.id)}
                onStep={() => {
                  const [first] = pipeline.stages;
                  if (first) onMove(one, first.label);
                }}
              />
            ))}
          </Column>
        ) : null}
      </div>
    </DndContext>
  );
}

interface ColumnProps {
  id: string;
  title: string;
  meaning: string;
  ground: string;
  n: number;
  sum: string;
  children: React.ReactNode;
}

function Column({ id, title, meaning, ground, n, sum, children }: ColumnProps) {
  const { setNodeRef, isOver } = useDroppable({ id, disabled: id === '' });
  return (
    <section
      ref={setNodeRef}
      aria-label={title}
      className={`flex w-60 min-w-52 flex-1 flex-col border-r border-hair ${isOver ? 'bg-picked' : ''}`}
    >
      <h2
        title={meaning}
        className={`flex items-baseline gap-2 border-b border-strong px-3 py-1.5 font-semibold ${ground || 'bg-page'}`}
      >
        {title}
        <span className="font-normal text-ink2">{count(n)}</span>
        <span className="ml-auto truncate text-[12.5px] font-normal text-ink2">{sum}</span>
      </h2>
      <ul className="min-h-0 flex-1 space-y-1.5 overflow-y-auto p-2">{children}</ul>
    </section>
  );
}

interface CardProps {
  opportunity: Opportunity;
  picked: boolean;
  onPick: () => void;
  onStep: (by: -1 | 1) => void;
}

function Card({ opportunity, picked, onPick, onStep }: CardProps) {
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({ id: opportunity.id });
  const { name, contact, value, closeDate, owner, outcome } = opportunity;
  const late = outcome === 'open' && closeDate !== null && closeDate < new Date().toISOString().slice(0, 10);
  return (
    <li>
      <button
        ref={setNodeRef}
        type="button"
        {...listeners}
        aria-current={picked || undefined}
        aria-keyshortcuts="Shift+ArrowLeft Shift+ArrowRight"
        className={
          `block w-full touch-none border bg-page px-2.5 py-1.5 text-left ` +
          `${picked ? 'border-ink shadow-[inset_3px_0_0_var(--ink)]' : 'border-hair hover:border-strong'} ${isDragging ? 'relative z-30 border-ink' : ''}`
        }
        style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
        onClick={onPick}
        onKeyDown={(event) => {
          if (!event.shiftKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
          event.preventDefault();
          onStep(event.key === 'ArrowLeft' ? -1 : 1);
        }}
      >
        <span className="block font-semibold break-words">{name}</span>
        <span className="block truncate text-ink2">{contact?.name ?? 'no contact'}</span>
        <span className="flex flex-wrap gap-x-2 text-[12.5px] text-ink2">
          {value ? <span className="whitespace-nowrap">{showValue('opportunityValue', { v: value })}</span> : null}
          {closeDate ? (
            <span className={`whitespace-nowrap ${late ? 'text-alarm' : ''}`}>
              {showValue('opportunityCloseDate', { v: closeDate })}
              {late ? ', past' : ''}
            </span>
          ) : null}
          <span className="ml-auto">{owner}</span>
        </span>
      </button>
    </li>
  );
}
