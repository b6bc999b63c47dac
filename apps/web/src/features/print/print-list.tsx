import { keys } from '../../app/keys';
import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import type { ContactListRow, ContactPage, ContactSort } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useLists } from '../../app/lists';
import { Failed, Loading } from '../../ui/controls';
import { count, exactly } from '../../ui/when';
import { useColumns } from '../contacts/grid-columns';
import { useKnown } from '../segments/names';
import { PrintFrame } from './print-frame';
import { wordsOfList } from './words-of-list';

const PAGE = 500;
const LIMIT = 5000;

async function allRows(query: string, signal: AbortSignal): Promise<{ rows: ContactListRow[]; total: number }> {
  const rows: ContactListRow[] = [];
  for (;;) {
    const page = await api.get<ContactPage>(`/contacts?${query}&at=${rows.length}&limit=${PAGE}`, signal);
    rows.push(...page.rows);
    if (page.rows.length < PAGE || rows.length >= LIMIT) return { rows, total: page.total };
  }
}

/** The list with the columns of the grid, on paper. */
export function PrintList() {
  const [params] = useSearchParams();
  const lists = useLists();
  const known = useKnown();
  const { columns, extra } = useColumns(lists.data);
  const query = `${params.toString()}${extra ? `&fields=${encodeURIComponent(extra)}` : ''}`;
  const list = useQuery({
    queryKey: keys.contacts('print', query),
    queryFn: ({ signal }) => allRows(query, signal),
    enabled: lists.isSuccess,
  });
  if (list.isLoadingError) return <Failed error={list.error} retry={() => void list.refetch()} />;
  if (!list.data) return <Loading what="the list" />;
  const { rows, total } = list.data;
  const sort = (params.get('sort') ?? 'family') as ContactSort;
  return (
    <PrintFrame
      title="List of contacts"
      page="A4 landscape"
      tools={
        total > rows.length ? (
          <span className="text-ink2">
            the first {count(rows.length)} of {count(total)}; narrow the list to print the others
          </span>
        ) : null
      }
    >
      <section className="paper mx-auto my-4 max-w-[297mm] p-8 print:my-0 print:max-w-none print:p-0">
        <h2 className="text-[13pt] font-bold">{wordsOfList(params, known)}</h2>
        <p className="mb-3 text-[9pt]">
          {count(rows.length)} of {count(total)} · {exactly(list.dataUpdatedAt)}
        </p>
        <table className="w-full border-collapse text-[9pt]">
          <thead>
            <tr>
              {columns.map((column) => (
                <th key={column.key} scope="col" className="border-b border-black py-1 pr-3 text-left">
                  {column.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id} className="break-inside-avoid">
                {columns.map((column) => (
                  <td
                    key={column.key}
                    className={`border-b border-[#ccc] py-0.5 pr-3 align-top ${column.key === 'tel' ? 'whitespace-nowrap' : ''}`}
                  >
                    {column.cell(row, sort)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </PrintFrame>
  );
}
