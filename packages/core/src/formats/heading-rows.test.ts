import { describe, expect, test } from '@jest/globals';
import { headingAt, sniffDelimited } from '.';

function headingOf(text: string): { row: number | null; headers: (string | null)[]; first: string[] } {
  const sniffed = sniffDelimited(new TextEncoder().encode(text), true);
  if (!sniffed.ok) throw new Error(sniffed.error.code);
  const { shape, sample } = sniffed.value;
  return { row: shape.headerRow, headers: shape.headers, first: sample[0] ?? [] };
}

describe('groups above a heading', () => {
  test('labels are part of each name', () => {
    const text =
      ',,Home,,Work,\nFirst name,Last name,Phone,E-mail,Phone,E-mail\nAna,Reis,01632 960111,a@example.org,,b@example.org\n';
    expect(headingOf(text)).toMatchObject({
      row: 2,
      headers: ['First name', 'Last name', 'Home Phone', 'Home E-mail', 'Work Phone', 'Work E-mail'],
    });
  });

  test('a title is none', () => {
    expect(headingOf('Work list\nName;Email\nAna;a@example.org\nBo;b@example.org\n').headers).toEqual([
      'Name',
      'Email',
    ]);
    const emergency = 'Emergency contacts,,\nName,Email,Town\nAna Reis,a@example.org,Tidemouth\n';
    expect(headingOf(emergency).headers).toEqual(['Name', 'Email', 'Town']);
    const printed = 'Members of the school,,Printed by the office\nName,Email,Town\nAna Reis,a@example.org,Tidemouth\n';
    expect(headingOf(printed).headers).toEqual(['Name', 'Email', 'Town']);
  });

  test("somebody else's are said of their columns, and of no others", () => {
    const text =
      'Participant,,,Home address,,Emergency contact,,,\n' +
      'First,Last,Born,Street,Town,Name,Phone,Relation,Tags\n' +
      'Maya,Okafor,14/03/1991,3 Quay Lane,Tidemouth,Sam Okafor,07700 900123,husband,crew\n' +
      'Jonas,Brandt,02/11/1985,18 Mill Rd,Tidemouth,Eva Brandt,07700 900456,mother,crew\n';
    expect(headingOf(text).headers).toEqual([
      ...['First', 'Last', 'Born', 'Home address Street', 'Home address Town'],
      ...['Emergency contact Name', 'Emergency contact Phone', 'Emergency contact Relation', 'Tags'],
    ]);
  });

  test('a group tells apart what is called alike', () => {
    const text =
      'Pupil,,Mentor,\nName,Phone,Name,Phone\nMaya Okafor,07700 900123,Sam Reis,07700 900124\nJon Ode,07700 900125,Eva Reis,07700 900126\n';
    expect(headingOf(text).headers).toEqual(['Name', 'Phone', 'Mentor Name', 'Mentor Phone']);
  });
});

describe('a heading of two records', () => {
  const joinedCells =
    'No,Name,Contact,,Town\n,,Phone,E-mail,\n1,Maya Okafor,07700 900123,maya@example.org,Tidemouth\n2,Jon Ode,07700 900125,jon@example.org,Oldhaven\n';

  test('cells over one another are one heading', () => {
    expect(headingOf(joinedCells)).toEqual({
      row: 2,
      headers: ['No', 'Name', 'Phone', 'E-mail', 'Town'],
      first: ['1', 'Maya Okafor', '07700 900123', 'maya@example.org', 'Tidemouth'],
    });
  });

  test('a record of data below a blank heading is no part of it', () => {
    const text = 'Name,,Town\nMaya Okafor,Berth 4,Tidemouth\nJon Ode,Berth 7,Oldhaven\n';
    expect(headingOf(text)).toMatchObject({ row: 1, headers: ['Name', '', 'Town'] });
    expect(headingOf('Name,Email,,\nAna Reis,a@example.org,,\n').row).toBe(1);
  });

  test('is read alike where somebody says in which record it ends', () => {
    const records = joinedCells.split('\n').map((line) => line.split(','));
    expect(headingAt(records, 2)).toEqual(['No', 'Name', 'Phone', 'E-mail', 'Town']);
    expect(headingAt(records, 1)).toEqual(['No', 'Name', 'Contact', '', 'Town']);
    expect(headingAt(records, 90)).toBeNull();
  });
});
