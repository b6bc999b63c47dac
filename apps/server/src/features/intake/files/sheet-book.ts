import type { Archive } from './archive';
import { local, readPart } from './sheet-parts';

/** What a spreadsheet holds, and where in its package. */
export interface Book {
  sheets: { name: string; path: string }[];
  texts: string;
  styles: string;
  from1904: boolean;
}

export async function readBook(archive: Archive): Promise<Book> {
  const targets = new Map<string, string>();
  const book: Book = { sheets: [], texts: 'xl/sharedStrings.xml', styles: 'xl/styles.xml', from1904: false };
  await readPart(archive, 'xl/_rels/workbook.xml.rels', {
    open: (name, { Id, Target = '', Type = '' }) => {
      if (name !== 'Relationship' || !Id) return;
      const path = Target.startsWith('/') ? Target.slice(1) : `xl/${Target}`;
      targets.set(Id, path);
      if (Type.endsWith('/sharedStrings')) book.texts = path;
      if (Type.endsWith('/styles')) book.styles = path;
    },
  });
  // What is hidden is seldom meant to be sent; where nothing else is there, it is.
  const hidden: Book['sheets'] = [];
  await readPart(archive, 'xl/workbook.xml', {
    open: (name, attributes) => {
      if (name === 'workbookPr') book.from1904 = /^(?:1|true)$/.test(attributes.date1904 ?? '');
      if (name !== 'sheet') return;
      const id = Object.entries(attributes).find(([key]) => local(key) === 'id' && key.includes(':'))?.[1];
      const path = targets.get(id ?? '');
      const isHidden = /hidden/i.test(attributes.state ?? '');
      if (path) (isHidden ? hidden : book.sheets).push({ name: attributes.name ?? '', path });
    },
  });
  if (!book.sheets.length) book.sheets = hidden;
  return book;
}
