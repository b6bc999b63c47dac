import type { InputHTMLAttributes, ReactNode } from 'react';
import { Mark } from './mark';

/** The page of whoever is not signed in: one form in the middle. */
export function WayIn({ title, children, onSubmit }: { title: string; children: ReactNode; onSubmit: () => void }) {
  return (
    <main className="grid h-full place-items-center overflow-y-auto bg-ground py-4">
      <form
        noValidate
        className="w-88 max-w-[94vw] border border-strong bg-page p-6"
        onSubmit={(event) => {
          event.preventDefault();
          onSubmit();
        }}
      >
        <p className="flex items-center gap-3 text-[16px] font-bold">
          <Mark /> Gray Loom
        </p>
        <h1 className="mt-4 text-ink2">{title}</h1>
        {children}
      </form>
    </main>
  );
}

/** A labelled box with what is wrong with it below. */
export function LabelledBox({
  label,
  error,
  ...box
}: { label: string; error: string | undefined } & InputHTMLAttributes<HTMLInputElement>) {
  return (
    <label className="mt-3 block">
      <span className="text-ink2">{label}</span>
      <input aria-invalid={!!error} className="field mt-1 w-full" {...box} />
      {error ? <span className="text-alarm">{error}</span> : null}
    </label>
  );
}

export function Refusal({ text }: { text: string | null }) {
  return text ? (
    <p role="alert" className="mt-3 text-alarm">
      {text}
    </p>
  ) : null;
}
