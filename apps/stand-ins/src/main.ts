import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { officeCards } from '../../../demo/office-cards';
import { fillMailRoom } from '../../../demo/mail-room';
import { fillPhoneBank } from '../../../demo/phone-bank';
import { startDialer } from './dialer/server';
import { startAddressBook } from './address-book/server';
import { startMailer } from './mailer/server';

const data = process.env.STAND_INS_DATA ?? '.data/stand-ins';
mkdirSync(data, { recursive: true });
const addressBook = await startAddressBook({
  port: Number(process.env.STAND_INS_PORT ?? 4320),
  file: join(data, 'address-book.json'),
  user: process.env.STAND_INS_USER ?? 'office',
  password: process.env.STAND_INS_PASSWORD ?? 'office',
  cards: process.env.STAND_INS_EMPTY ? () => [] : officeCards,
});
const dialer = process.env.STAND_INS_DIALER_PORT
  ? await startDialer({
      port: Number(process.env.STAND_INS_DIALER_PORT),
      file: join(data, 'dialer.json'),
      key: process.env.STAND_INS_DIALER_KEY ?? 'dialer',
      ...(process.env.STAND_INS_EMPTY ? {} : { fill: (store) => fillPhoneBank(store) }),
    })
  : null;
const mailer = process.env.STAND_INS_MAILER_PORT
  ? await startMailer({
      port: Number(process.env.STAND_INS_MAILER_PORT),
      file: join(data, 'mailer.json'),
      client: {
        id: process.env.STAND_INS_MAILER_ID ?? 'mailer',
        secret: process.env.STAND_INS_MAILER_SECRET ?? 'mailer',
      },
      ...(process.env.STAND_INS_EMPTY ? {} : { fill: (store) => fillMailRoom(store) }),
    })
  : null;
const end = () => void Promise.all([addressBook.stop(), dialer?.stop(), mailer?.stop()]).then(() => process.exit(0));
process.once('SIGTERM', end);
process.once('SIGINT', end);
