import type { Database } from '@gray-loom/server';

/** Days of the past that the state of the book has a course over. */
const DAYS = 150;

/** How complete and fresh the book was on the days before: of whoever was here by then, a little less complete the longer ago. */
export async function seedBookState({ pool }: Database): Promise<void> {
  await pool.query(
    `insert into book_state (day, people, completeness, fresh)
     select d::date, count(c.id)::int, greatest(0, coalesce(avg(c.completeness), 0) - (current_date - d::date) / 16.0),
       count(c.id) filter (where c.touched_at > d - interval '1 year' or c.touched_at > d)::int
     from generate_series(current_date - ${DAYS}, current_date - 1, interval '1 day') d
       left join contact c on c.state = 'live' and c.kind = 'person' and c.created_at < d + interval '1 day'
     group by d on conflict (day) do nothing`,
  );
}
