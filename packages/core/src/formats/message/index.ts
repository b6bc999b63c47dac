export {
  looksLikeMessage,
  messageRow,
  messageTable,
  readEnquiry,
  type MailedPerson,
  type MessageParts,
} from './enquiry';
