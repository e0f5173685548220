package store

// ListSQL is the statement of a list of units, for tests that look at its plan.
func (q Asked) ListSQL() (query string, args []any) {
	from, order, args, ranks := q.query()
	return "SELECT u.id" + from + " ORDER BY " + order + " LIMIT 50", append(args, ranks...)
}

// CountSQL is the statement that counts them.
func (q Asked) CountSQL() (query string, args []any) {
	from, _, args, _ := q.query()
	return "SELECT COUNT(*)" + from, args
}

// StaleUnits is the statement that finds what is to be made anew.
const StaleUnits = staleUnits
