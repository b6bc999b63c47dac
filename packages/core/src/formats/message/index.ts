export {
  looksLikeMessage,
  LABEL_MARK,
  messageRow,
  messageTable,
  readEnquiry,
  type MailedPerson,
  type MessageParts,
} from './enquiry';
