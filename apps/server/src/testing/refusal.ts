export interface Refusal {
  status: number;
  code: string;
  detail: string;
  facts: Record<string, unknown>;
}

/** The problem a request was refused with; throws when it was not refused. */
export async function refusal(work: Promise<unknown>): Promise<Refusal> {
  return work.then(
    () => {
      throw new Error('it was not refused');
    },
    (error: unknown) => (error as { problem: Refusal }).problem,
  );
}
