"""What stages are made of: forms, tables, pages, the store."""
