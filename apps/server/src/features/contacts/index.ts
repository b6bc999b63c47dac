export { contactConditions, findFragments, searchTexts } from './contact-filter';
export { contactsMeeting } from './statements/filtered-contacts';
export { changeDeleted, setDeleted } from './edit-contact';
export { closedChannels } from './permissions';
export { countsOfSaid, keepSaid, type RowSaid } from './said-permissions';
export { keepPicture } from './pictures';
