import { sayActivityFault, sayFileFault, type ActivityFault, type FileFault } from '@gray-loom/core/activity';
import { conflict, declareRefusals, invalid, missing, tooLarge } from '../../http/refusal';

export const refuse = declareRefusals({
  noSuchActivity: missing('There is no such entry any more.'),
  fault: invalid(({ fault }: { field: string; fault: ActivityFault }) => sayActivityFault(fault)),
  changed: conflict(
    ({ who }: { who: string; version: number }) =>
      `${who || 'Somebody'} changed this entry meanwhile. What you typed is still here; look at what it says now, and save again.`,
  ),
  noSuchAccount: invalid<{ field: 'who' }>('There is no such colleague. Choose another one.'),
  retired: invalid(
    ({ name }: { field: 'who'; name: string }) => `${name} is retired. Give it to somebody who can still do it.`,
  ),
  noSuchPerson: invalid<{ field: 'people' }>('One of those who take part is gone. Choose somebody else.'),
  noSuchStage: invalid(({ stage }: { field: 'stage'; stage: string }) => `There is no stage '${stage}' any more.`),
  noSuchCalendar: missing(
    'There is no calendar at this address any more. Make another address under Settings, Your account.',
  ),
  file: invalid(({ fault }: { field: 'file'; fault: FileFault }) => sayFileFault(fault)),
  fileTooLarge: tooLarge(({ fault }: { field: 'file'; fault: FileFault }) => sayFileFault(fault)),
  fileHere: conflict(({ name, as }: { field: 'file'; name: string; as: string }) =>
    name === as ? `‘${name}’ is here already.` : `‘${name}’ is here already, as ‘${as}’.`,
  ),
  noSuchFile: missing('There is no such file any more. It was removed; undo brings it back.'),
  notDrawn: invalid(
    ({ name, is }: { name: string; is: string }) =>
      `‘${name}’ is ${is}, which cannot be shown here. Save it to look at it.`,
  ),
  rhythmOfNobody: invalid<{ field: 'rhythms' }>('Say of which stage or segment each rhythm is.'),
  touchSettings: invalid(({ fault }: { field: 'rhythms'; fault: string }) => fault),
  noSuchSegment: invalid<{ field: 'rhythms' }>('One of these segments is gone. Choose another one.'),
  rhythmOfOverdue: invalid(
    ({ name }: { field: 'rhythms'; name: string }) =>
      `‘${name}’ itself asks how overdue somebody is, so that a rhythm of it would go round in a circle. Choose another segment.`,
  ),
  notToDo: conflict('Only tasks and enquiries are done.'),
});
