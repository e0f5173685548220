// Package practice answers the operations of practice: hidden units and drills.
package practice

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"image"
	"image/jpeg"

	"zorvel/api"
	"zorvel/core/practice"
	"zorvel/core/practice/drills"
	"zorvel/core/practice/progress"
	"zorvel/core/sight/drawn"
	"zorvel/internal/index"
	"zorvel/internal/store"
)

// Room answers the operations of practice.
type Room struct {
	store *store.Store
	index *index.Index
}

// New opens the room.
func New(st *store.Store, ix *index.Index) *Room { return &Room{store: st, index: ix} }

// Practice plays what was done at a hidden unit.
func (s *Room) Practice(_ context.Context, r api.PracticeRequestObject) (api.PracticeResponseObject, error) {
	scene, err := practice.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.Practice200JSONResponse(*scene), nil
}

// PracticeDrill deals a card of a drill, with its photo where it has one.
func (s *Room) PracticeDrill(_ context.Context, r api.PracticeDrillRequestObject) (api.PracticeDrillResponseObject,
	error) {
	card, err := drills.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	out := api.PracticeDrill200JSONResponse{Card: *card}
	if p := card.Picture; p != nil && p.Photo != "" && card.Marked == nil {
		shot, err := photo(p)
		if err != nil {
			return nil, err
		}
		out.Image = &shot
	}
	return out, nil
}

// photo draws the picture of a card, as a data URI.
func photo(p *drills.Picture) (string, error) {
	shot := drawn.Draw(drawn.Some(p.Photo, p.Seed))
	gray := &image.Gray{Pix: shot.Gray, Stride: shot.Width, Rect: image.Rect(0, 0, shot.Width, shot.Height)}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, gray, &jpeg.Options{Quality: 82}); err != nil {
		return "", fmt.Errorf("a card's photo: %w", err)
	}
	return "data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(b.Bytes()), nil
}

// PracticeBoard says what is open, mastered and due after a device's results.
func (s *Room) PracticeBoard(_ context.Context, r api.PracticeBoardRequestObject) (api.PracticeBoardResponseObject,
	error) {
	b, err := progress.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.PracticeBoard200JSONResponse(*b), nil
}
