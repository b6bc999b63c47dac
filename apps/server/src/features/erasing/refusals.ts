import { conflict, declareRefusals, missing } from '../../http/refusal';

export const refuseErasing = declareRefusals({
  alreadyErased: conflict('This contact was erased already.'),
  fileWaits: conflict(
    ({ name }: { name: string; intakeId: number }) =>
      `${name} holds this person too, and is not in yet. Bring the file in or drop it, then erase. Nothing was changed.`,
  ),
  underWay: conflict(
    ({ title }: { title: string }) =>
      `${title} is under way and may hold this person. Erase once it has ended. Nothing was changed.`,
  ),
  noSuchErased: missing('This was lifted already, or there is no such entry.'),
});
