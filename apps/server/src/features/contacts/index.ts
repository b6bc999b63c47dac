export { contactConditions, findFragments, searchTexts } from './contact-filter';
export { setDeleted } from './edit-contact';
export { closedChannels } from './permissions';
export { keepPicture } from './pictures';
