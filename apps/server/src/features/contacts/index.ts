export { setDeleted } from './edit-contact';
