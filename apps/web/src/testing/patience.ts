import { configure } from '@testing-library/react';

/** A machine that is busy with something else takes its time to draw a page. */
configure({ asyncUtilTimeout: 60_000 });
