export {
  ACTIVITY_KINDS,
  activityOf,
  contentKey,
  faultOfActivity,
  MOST_WHAT,
  packActivity,
  ROW_KINDS,
  sayActivityFault,
  TALK_WAYS,
  unpackActivity,
  type Activity,
  type ActivityFault,
  type ActivityKind,
  type ActivityPart,
  type FileContent,
  type TalkWay,
} from './activity';
export { FILE_LIMIT_BYTES, faultOfFile, nameOfFile, sayFileFault, shownAs, typeInWords, type FileFault } from './files';
export { nextOf, type Repeat } from './repeat';
export { planArrivals, type Arrival, type Here } from './arrivals';
export {
  daysOverdue,
  faultOfTouchSettings,
  lastTouch,
  NO_RHYTHMS,
  rhythmOf,
  TOUCH_KINDS,
  type Rhythm,
  type Touch,
  type TouchSettings,
} from './touch';
export { changedParts, undoActivity, type ActivityStep, type UndoneActivity } from './undo';
export { DAY, dayOfWhen, daysBetween, isRealMoment, isZone, momentOf, msOfWhen, wallTime } from './when';
