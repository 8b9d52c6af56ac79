"""That nothing is lost; the book of jobs, profiles, the doctor."""
