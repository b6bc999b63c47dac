/** What a record says about a person, as text. The matching engine reads nothing else. */
export interface PersonFacts {
  givenName?: string;
  additionalNames?: string;
  familyName?: string;
  suffix?: string;
  nickname?: string;
  fullName?: string;
  organization?: string;
  title?: string;
  emails?: string[];
  /** E.164 where known, else digits. */
  phones?: string[];
  street?: string;
  locality?: string;
  region?: string;
  postalCode?: string;
  country?: string;
  /** ISO 8601. */
  bday?: string;
}

/** A mailbox taken apart for comparison. */
export interface MailboxFacts {
  key: string;
  local: string;
  /** Local part without separators. */
  plain: string;
  /** The same without digits at the end. */
  stem: string;
  digits: string;
  domain: string;
  role: boolean;
}
