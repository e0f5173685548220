package index

import (
	"context"

	"zorvel/core/catalog"
)

// Letterhead is what stands on every sheet that the shop prints.
func (s *Index) Letterhead(ctx context.Context) (catalog.Letterhead, error) {
	var h catalog.Letterhead
	_, err := Entries(ctx, s, catalog.Settings, func(_ string, r catalog.Row) (struct{}, bool) {
		h.Take(r)
		return struct{}{}, false
	})
	return h, err
}
