/** What is known of a row's contact beside a number: the row became none. */
const NONE = -1;

/** Contacts by row: eight bytes a row. */
export class RowContacts {
  private readonly ids: Float64Array;

  constructor(rows: number) {
    this.ids = new Float64Array(rows + 1);
  }

  /** The contact of a row; null where it became none, undefined where nothing was said. */
  get(row: number): number | null | undefined {
    const id = this.ids[row];
    return id === NONE ? null : id || undefined;
  }

  set(row: number, contactId: number | null): void {
    this.ids[row] = contactId ?? NONE;
  }
}
