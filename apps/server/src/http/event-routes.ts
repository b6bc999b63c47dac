import { streamSSE } from 'hono/streaming';
import { events as eventStream, route, type Route } from './declare';
import type { Surroundings } from './services';

const PING_MS = 20_000;

/** Everything that moves is told to open screens as it happens. */
export function eventRoutes({ events, log }: Surroundings, pingMs = PING_MS): Route[] {
  return [
    route({
      method: 'get',
      path: '/events',
      summary: 'What moves, as server-sent events.',
      may: 'viewer',
      answer: eventStream,
      example: {},
      handle: ({ context, stillIn }) =>
        streamSSE(context, async (stream) => {
          await new Promise<void>((gone) => {
            const send = (event: string, data: object) =>
              void stream.writeSSE({ event, data: JSON.stringify(data) }).catch((error: unknown) => {
                log.debug({ code: (error as { code?: string }).code }, 'a listener went away');
                close();
              });
            const unsubscribe = events.subscribe((event) => send(event.topic, event));
            // Whoever was signed out meanwhile hears nothing any more.
            const pings = setInterval(() => {
              send('ping', {});
              void stillIn().then(
                (isIn) => (isIn ? undefined : close()),
                () => undefined,
              );
            }, pingMs);
            const close = () => {
              clearInterval(pings);
              unsubscribe();
              gone();
            };
            stream.onAbort(close);
            send('hello', {});
          });
        }),
    }),
  ];
}
