"""`python -m robust_ledger` is the same as `robust-ledger`."""

import sys

from robust_ledger.start import main

sys.exit(main())
