const nobodysYet = () => undefined;

/**
 * A promise that is awaited later, and whose failure is told then: until then it is nobody's, and does not count as one that nobody
 * looks after.
 */
export function awaitedLater<T>(promise: Promise<T>): Promise<T> {
  promise.catch(nobodysYet);
  return promise;
}
