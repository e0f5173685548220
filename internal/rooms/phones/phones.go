// Package phones tells how phones and tablets of the shop reach the server.
package phones

import (
	"context"

	"zorvel/api"
)

// Room answers with the way in, which stays the same while the server runs.
type Room struct{ Way api.Phones }

// GetPhones tells the way in.
func (s *Room) GetPhones(context.Context, api.GetPhonesRequestObject) (api.GetPhonesResponseObject, error) {
	w := s.Way
	if w.Addresses == nil {
		w.Addresses = []string{}
	}
	if w.Trust == nil {
		w.Trust = []string{}
	}
	return api.GetPhones200JSONResponse(w), nil
}
