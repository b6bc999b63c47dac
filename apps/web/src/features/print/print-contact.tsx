import { keys } from '../../app/keys';
import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import type { ContactDetail } from '@gray-loom/wire';
import { addressLines, showValue, STANDARD_FIELDS } from '@gray-loom/core/fields';
import { firstText, isAddress, isRelation, valuesOf, type Value } from '@gray-loom/core/model';
import { api } from '../../app/api';
import { useLists } from '../../app/lists';
import { Failed, Loading } from '../../ui/controls';
import { exactly } from '../../ui/when';
import { PrintFrame } from './print-frame';

const NOT_LISTED = new Set(['fullName', 'photo', 'tags']);

/** One contact on paper, every value with where it came from. */
export function PrintContact() {
  const { id } = useParams();
  const lists = useLists();
  const contact = useQuery({
    queryKey: keys.contact(Number(id)),
    queryFn: () => api.get<ContactDetail>(`/contacts/${id}`),
  });
  if (contact.isPending) return <Loading what="the contact" />;
  if (contact.isLoadingError) return <Failed error={contact.error} retry={() => void contact.refetch()} />;
  const { name, record, threads, relatedBy, related, people, letterLine, salutation } = contact.data;
  const fields = (lists.data?.fields ?? STANDARD_FIELDS).filter(
    (field) => !NOT_LISTED.has(field.key) && !field.retired,
  );
  const photo = firstText(record, 'photo');
  const words = (field: string, value: Value): string => {
    if (isAddress(value.v)) return addressLines(value.v, lists.data?.country ?? null).join('\n');
    if (isRelation(value.v))
      return `${value.v.relation}: ${value.v.to === null ? value.v.name : (related[value.v.to]?.name ?? 'somebody who is gone')}`;
    return showValue(field, value);
  };
  const from = ({ run, row }: Value) =>
    [threads[run]?.name, row ? `row ${row}` : '', threads[run] ? exactly(threads[run].at) : '']
      .filter(Boolean)
      .join(', ');
  return (
    <PrintFrame title={name} page="A4">
      <section className="paper mx-auto my-4 max-w-[210mm] p-10 print:my-0 print:max-w-none print:p-0">
        <div className="flex items-start gap-5">
          {photo ? <img src={`/api/pictures/${photo}`} alt={`Photo of ${name}`} className="w-28" /> : null}
          <div>
            <h2 className="text-[17pt] leading-tight font-bold">{name}</h2>
            <p className="text-[10pt]">
              {letterLine} · {salutation}
            </p>
            <p className="text-[10pt]">
              {valuesOf(record, 'tags')
                .map((tag) => String(tag.v))
                .join(' · ')}
            </p>
          </div>
        </div>
        <table className="mt-4 w-full border-collapse text-[10pt]">
          <tbody>
            {fields.flatMap((field) =>
              valuesOf(record, field.key).map((value) => (
                <tr key={`${field.key}:${value.slot}`} className="break-inside-avoid">
                  <th scope="row" className="w-40 border-b border-[#ccc] py-1 pr-3 text-left align-top font-normal">
                    {field.name}
                    {value.label ? `, ${value.label}` : ''}
                  </th>
                  <td className="border-b border-[#ccc] py-1 pr-3 align-top whitespace-pre-wrap">
                    {words(field.key, value)}
                  </td>
                  <td className="border-b border-[#ccc] py-1 text-right align-top text-[8pt]">{from(value)}</td>
                </tr>
              )),
            )}
            {[
              ...relatedBy.map((one) => ['Relationship', `${one.relation}: ${one.name}`] as const),
              ...people.map((person) => ['Person', `${person.name} ${person.title}`] as const),
            ].map(([what, text], i) => (
              <tr key={i}>
                <th scope="row" className="border-b border-[#ccc] py-1 text-left font-normal">
                  {what}
                </th>
                <td className="border-b border-[#ccc] py-1" colSpan={2}>
                  {text}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="mt-4 text-[8pt]">Printed {exactly(contact.dataUpdatedAt)}</p>
      </section>
    </PrintFrame>
  );
}
