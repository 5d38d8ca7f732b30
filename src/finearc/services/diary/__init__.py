"""The diary: booking, moving, cancelling, waiting; hours, holidays, busy time; courses of lessons."""
