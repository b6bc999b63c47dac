import { createBrowserRouter, Navigate, useRouteError } from 'react-router';
import { ReferralsPage } from '../features/contacts/referrals-page';
import { StopsPage } from '../features/contacts/stops-page';
import { ContactsPage } from '../features/contacts/contacts-page';
import { DuplicatesPage } from '../features/duplicates/duplicates-page';
import { HeldPage } from '../features/intake/held-page';
import { IntakePage } from '../features/intake/intake-page';
import { MappingPage } from '../features/intake/mapping-page';
import { LedgerPage } from '../features/ledger/ledger-page';
import { OpportunitiesPage } from '../features/opportunities/opportunities-page';
import { InvitationPage } from '../features/people/invitation-page';
import { PrintContact } from '../features/print/print-contact';
import { PrintLabels } from '../features/print/print-labels';
import { PrintList } from '../features/print/print-list';
import { BuildSegmentPage } from '../features/segments/build-page';
import { SegmentsPage } from '../features/segments/segments-page';
import { SettingsPage } from '../features/setup/settings-page';
import { SyncsPage } from '../features/syncs/syncs-page';
import { WorklistPage } from '../features/worklist/worklist-page';
import { Notice } from '../ui/controls';
import { Frame } from './frame';

function Broken() {
  const error = useRouteError();
  return (
    <Notice title="This page broke" tone="alarm">
      <p>
        {error instanceof Error ? error.message : 'Something went wrong while showing it.'} Nothing was changed. Reload
        the page; if it stays, the log of this browser has the details.
      </p>
    </Notice>
  );
}

function Nowhere() {
  return (
    <Notice title="There is nothing at this address">
      <p>Choose a section above.</p>
    </Notice>
  );
}

export const router = createBrowserRouter([
  {
    path: '/',
    element: <Frame />,
    errorElement: <Broken />,
    children: [
      { index: true, element: <Navigate to="/worklist" replace /> },
      { path: 'worklist', element: <WorklistPage /> },
      { path: 'contacts/referrals', element: <ReferralsPage /> },
      { path: 'contacts/stops', element: <StopsPage /> },
      { path: 'contacts/:id?', element: <ContactsPage /> },
      { path: 'opportunities/:id?', element: <OpportunitiesPage /> },
      { path: 'segments/new', element: <BuildSegmentPage key="new" /> },
      { path: 'segments/:id/edit', element: <BuildSegmentPage key="edit" /> },
      { path: 'segments/:id?', element: <SegmentsPage /> },
      { path: 'intake', element: <IntakePage /> },
      { path: 'intake/held/:runId?', element: <HeldPage /> },
      { path: 'intake/:id', element: <MappingPage /> },
      { path: 'duplicates/:id?', element: <DuplicatesPage /> },
      { path: 'syncs/:id?/:part?', element: <SyncsPage /> },
      { path: 'ledger/:id?', element: <LedgerPage /> },
      { path: 'settings/:part?', element: <SettingsPage /> },
      { path: '*', element: <Nowhere /> },
    ],
  },
  { path: '/invitation/:token', element: <InvitationPage />, errorElement: <Broken /> },
  {
    path: '/print',
    errorElement: <Broken />,
    children: [
      { path: 'list', element: <PrintList /> },
      { path: 'labels', element: <PrintLabels /> },
      { path: 'contact/:id', element: <PrintContact /> },
    ],
  },
]);
