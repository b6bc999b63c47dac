import { keys } from '../../app/keys';
import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import type { Labels } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Failed, Loading, Notice } from '../../ui/controls';
import { count } from '../../ui/when';
import { LABEL_SHEETS, layOut, PAGES, sheetWords, type LabelSheet } from './label-sheets';
import { PrintFrame } from './print-frame';

/** Mailing labels of a filter on a page of labels, measure for measure. */
export function PrintLabels() {
  const [params, setParams] = useSearchParams();
  const filter = new URLSearchParams([...params].filter(([key]) => key !== 'sheet' && key !== 'skip')).toString();
  const labels = useQuery({
    queryKey: keys.contacts('labels', filter),
    queryFn: () => api.get<Labels>(`/labels?${filter}`),
  });
  const sheet = LABEL_SHEETS.find((one) => one.key === params.get('sheet')) ?? LABEL_SHEETS[0];
  const skip = Math.max(0, Number(params.get('skip') ?? 0) || 0);
  if (labels.isPending || !sheet) return <Loading what="the labels" />;
  if (labels.isLoadingError) return <Failed error={labels.error} retry={() => void labels.refetch()} />;
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    next.set(key, value);
    setParams(next, { replace: true });
  };
  return (
    <PrintFrame
      title="Mailing labels"
      page={sheet.page}
      margin="0"
      tools={
        <>
          <select
            aria-label="Page of labels"
            className="field"
            value={sheet.key}
            onChange={(event) => set('sheet', event.target.value)}
          >
            {LABEL_SHEETS.map((one) => (
              <option key={one.key} value={one.key}>
                {sheetWords(one)}
              </option>
            ))}
          </select>
          <label className="flex items-center gap-1.5 text-ink2">
            Labels used up on the first page
            <input
              type="number"
              min={0}
              max={sheet.across * sheet.down - 1}
              className="field w-16"
              value={skip}
              onChange={(event) => set('skip', event.target.value)}
            />
          </label>
          <span className="text-ink2">{labelWords(labels.data)}</span>
        </>
      }
    >
      {labels.data.labels.length === 0 ? (
        <Notice title="No labels to print">Nobody here has an address that post may be sent to.</Notice>
      ) : (
        layOut(labels.data.labels, sheet, skip).map((places, i) => <Page key={i} sheet={sheet} places={places} />)
      )}
    </PrintFrame>
  );
}

function labelWords({ labels, withoutAddress, noPost, together, more }: Labels): string {
  return [
    `${count(labels.length)} labels`,
    together ? `${count(together)} share one with a partner` : '',
    withoutAddress ? `${count(withoutAddress)} have no address` : '',
    noPost ? `${count(noPost)} want no post` : '',
    more ? 'more than 3,000 fit; print them in parts' : '',
  ]
    .filter(Boolean)
    .join(', ');
}

function Page({ sheet, places }: { sheet: LabelSheet; places: (Labels['labels'][number] | null)[] }) {
  const page = PAGES[sheet.page];
  const mm = (n: number) => `${n}mm`;
  return (
    <section
      className="paper relative mx-auto my-4 overflow-hidden print:my-0 print:break-after-page"
      style={{ width: mm(page.width), height: mm(page.height - 0.1) }}
    >
      {places.map((label, i) => (
        <div
          key={label?.id ?? `empty ${i}`}
          className="absolute flex flex-col justify-center overflow-hidden outline outline-dotted outline-1 outline-[#bbb] print:outline-none"
          style={{
            left: mm(sheet.left + (i % sheet.across) * sheet.stepX),
            top: mm(sheet.top + Math.floor(i / sheet.across) * sheet.stepY),
            width: mm(sheet.width),
            height: mm(sheet.height),
            padding: '2mm 4mm',
            // Long addresses are set smaller, so that no line is cut off.
            fontSize: label && label.lines.length > Math.floor(sheet.height / 5.2) ? '8.5pt' : '10.5pt',
            lineHeight: 1.25,
          }}
        >
          {label?.lines.map((line, j) => (
            <span key={j} className={j === 0 ? 'font-semibold' : ''}>
              {line}
            </span>
          ))}
        </div>
      ))}
    </section>
  );
}
