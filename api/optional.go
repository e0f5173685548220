package api

// Value is what a pointer points at, or nothing where it was left out.
func Value[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}

// Some is a pointer to v, or nil where v is its zero value.
func Some[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

// List is s, or an empty list where there is none.
func List[T any](s []T) []T {
	if s == nil {
		return []T{}
	}
	return s
}
