import { useEffect, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { Button } from '../../ui/controls';

interface PrintFrameProps {
  title: string;
  /** CSS size of the page, such as "A4". */
  page: string;
  /** Margin of the page; labels have none. */
  margin?: string;
  tools?: ReactNode;
  children: ReactNode;
}

/** A page made for paper: on screen with its tools above, on paper without them. Always dark on white. */
export function PrintFrame({ title, page, margin = '14mm', tools, children }: PrintFrameProps) {
  const navigate = useNavigate();
  useEffect(() => {
    const before = document.title;
    document.title = title;
    return () => {
      document.title = before;
    };
  }, [title]);
  return (
    <div className="min-h-full bg-ground print:bg-white">
      <style>{`@page { size: ${page}; margin: ${margin}; }`}</style>
      <header className="sticky top-0 z-10 flex flex-wrap items-center gap-3 border-b border-strong bg-ground px-4 py-2 print:hidden">
        <h1 className="font-bold">{title}</h1>
        {tools}
        <span className="ml-auto flex gap-2">
          <Button kind="action" onClick={() => window.print()}>
            Print
          </Button>
          <Button onClick={() => void navigate(-1)}>Back</Button>
        </span>
      </header>
      <main>{children}</main>
    </div>
  );
}
