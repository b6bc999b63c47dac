export { contactConditions, countConditions } from './contact-filter';
export { readyCondition, readyFilter, today, wholeCondition, type ReadyFilter } from './ready-filter';
export { contactPage } from './contact-list';
export { PlaceMarks } from './place-marks';
export { contactsMeeting } from './statements/filtered-contacts';
export { changeDeleted, setDeleted } from './edit-contact';
export { channelStates, closedChannels } from './permissions';
export { countsOfSaid, keepSaid, type RowSaid } from './said-permissions';
export { keepPicture } from './pictures';
