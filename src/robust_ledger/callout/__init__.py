"""The call-out line: what is said on any stage becomes facts of the job."""
