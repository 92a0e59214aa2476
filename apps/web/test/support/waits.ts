import { configure } from '@testing-library/react';

// The second that the library waits by default is soon gone on a machine that runs other tests beside. As with the
// limit in jest.config.js, this one only ends what hangs.
configure({ asyncUtilTimeout: 60_000 });
