package photos

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"zorvel/api"
	"zorvel/core/marks"
	"zorvel/core/sight"
	"zorvel/core/workcard"
	"zorvel/internal/keyed"
	"zorvel/internal/photo"
	"zorvel/internal/problem"
	"zorvel/internal/rooms/units"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

var (
	errPhotosFull   = problem.New(http.StatusConflict, "Full", fmt.Sprintf("A unit has at most %d photos.", store.MostPhotos))
	errPhotoChanged = problem.New(http.StatusConflict, "Changed", "Someone else has marked this photo meanwhile; what is there now was loaded again.")
)

// ToothMarks counts teeth by marks on a photo.
func (s *Room) ToothMarks(_ context.Context, r api.ToothMarksRequestObject) (api.ToothMarksResponseObject, error) {
	a, err := marks.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.ToothMarks200JSONResponse(*a), nil
}

// CountOnPhoto counts the teeth of the gear on a photo; nothing is kept.
func (s *Room) CountOnPhoto(_ context.Context, r api.CountOnPhotoRequestObject) (api.CountOnPhotoResponseObject,
	error) {
	g, err := photo.ToGray(r.Body.Image)
	if err != nil {
		return nil, problem.Field("/image", err.Error())
	}
	a, err := sight.Work(sight.Question{Gray: g.Pix, Width: g.Width, Height: g.Height, Shrunk: g.Shrunk,
		Tap: r.Body.Tap, Box: r.Body.Box})
	if err != nil {
		return nil, err
	}
	return api.CountOnPhoto200JSONResponse(*a), nil
}

func photoOut(p store.Photo) api.Photo {
	out := api.Photo{
		Of: photoOf(p.Of), Id: p.ID, UnitId: p.UnitID, JobId: api.Some(p.JobID), Part: p.Part, Title: p.Title, Width: p.Width, Height: p.Height,
		Points: []marks.Point{}, Version: p.Version, By: p.By, At: p.At,
	}
	if json.Unmarshal(p.Marks, &out.Points) != nil {
		out.Points = []marks.Point{} // the picture is worth showing without them
	}
	return out
}

func photoOf(e store.Evidence) *api.PhotoOf {
	if e == (store.Evidence{}) {
		return nil
	}
	return &api.PhotoOf{Reading: api.Some(e.Reading), Work: api.Some(e.Work), Run: api.Some(e.Run), Step: api.Some(e.Step)}
}

// evidenceOf reads what a photo is the evidence of.
func (s *Room) evidenceOf(ctx context.Context, of *api.PhotoOf) (store.Evidence, error) {
	if of == nil {
		return store.Evidence{}, nil
	}
	e := store.Evidence{Reading: api.Value(of.Reading), Work: api.Value(of.Work), Run: api.Value(of.Run), Step: api.Value(of.Step)}
	given := 0
	for _, id := range []int64{e.Reading, e.Work, e.Run} {
		if id != 0 {
			given++
		}
	}
	if given != 1 {
		return e, problem.Field("/of", "a reading, a line of a job, or the run of a card; just one of them")
	}
	if (e.Step != "") != (e.Run != 0) {
		return e, problem.Field("/of/step", "the step of a card's run, and only with one")
	}
	if e.Run != 0 {
		run, err := s.store.CardRun(ctx, e.Run)
		if err != nil {
			return e, err
		}
		if !slices.ContainsFunc(run.Run.Card.Steps, func(x workcard.Step) bool { return x.ID == e.Step }) {
			return e, problem.Field("/of/step", "the card has no such step")
		}
	}
	return e, nil
}

// ListPhotos lists a unit's photos.
func (s *Room) ListPhotos(ctx context.Context, r api.ListPhotosRequestObject) (api.ListPhotosResponseObject, error) {
	if _, err := s.store.UnitName(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := s.store.Photos(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out := api.ListPhotos200JSONResponse{}
	for _, p := range list {
		out = append(out, photoOut(p))
	}
	return out, nil
}

// AddPhoto takes a picture in.
func (s *Room) AddPhoto(ctx context.Context, r api.AddPhotoRequestObject) (api.AddPhotoResponseObject, error) {
	p := signin.Person(ctx)
	b := r.Body
	if part := api.Value(b.Part); part != "" {
		parts, err := s.cards.UnitParts(ctx, r.Id)
		if err != nil {
			return nil, err
		}
		if !slices.Contains(parts, part) {
			return nil, problem.Field("/part", "this unit has no such part")
		}
	}
	of, err := s.evidenceOf(ctx, b.Of)
	if err != nil {
		return nil, err
	}
	pic, err := photo.Take(b.Image)
	if err != nil {
		return nil, problem.Field("/image", err.Error())
	}
	id, err := s.store.AddPhoto(ctx, store.Photo{UnitID: r.Id, JobID: api.Value(b.Job), Of: of, Key: b.Key,
		Content: keyed.PhotoContent(b), Part: api.Value(b.Part), Title: strings.TrimSpace(api.Value(b.Title)),
		Width: pic.Width, Height: pic.Height, By: p.Name}, pic.Full, pic.Thumb)
	if errors.Is(err, store.ErrInUse) {
		return nil, errPhotosFull
	}
	if err != nil {
		return nil, keyed.Refused(err, "photo")
	}
	out, err := s.photo(ctx, id)
	return api.AddPhoto201JSONResponse(out), err
}

func (s *Room) photo(ctx context.Context, id int64) (api.Photo, error) {
	p, err := s.store.Photo(ctx, id)
	if err != nil {
		return api.Photo{}, err
	}
	out := photoOut(p)
	out.Shows, err = s.shows(ctx, p)
	return out, err
}

// shows says what a photo is the evidence of, and where that stands.
func (s *Room) shows(ctx context.Context, p store.Photo) (*api.PhotoShows, error) {
	switch of := p.Of; {
	case of.Reading != 0:
		row, err := s.store.Reading(ctx, of.Reading)
		if err != nil {
			return nil, err
		}
		v, err := s.store.Stage(ctx, row.StageID)
		if err != nil {
			return nil, err
		}
		k, err := units.ReadingOut(row)
		if err != nil {
			return nil, err
		}
		says := v.Name + ": " + k.Summary
		if row.Struck != nil {
			says += " (voided)"
		}
		return &api.PhotoShows{Says: says, Page: fmt.Sprintf("/stages/%d", v.ID)}, nil
	case of.Work != 0:
		w, err := s.store.WorkLine(ctx, of.Work)
		if err != nil {
			return nil, err
		}
		return &api.PhotoShows{Says: w.Text, Page: fmt.Sprintf("/jobs/%d#entry-%d", w.JobID, w.ID)}, nil
	case of.Run != 0:
		run, err := s.store.CardRun(ctx, of.Run)
		if err != nil {
			return nil, err
		}
		says := run.Run.Card.Title
		if i := slices.IndexFunc(run.Run.Card.Steps, func(x workcard.Step) bool { return x.ID == of.Step }); i >= 0 {
			says += ": " + run.Run.Card.Steps[i].Do
		}
		return &api.PhotoShows{Says: says, Page: fmt.Sprintf("/card-runs/%d", of.Run)}, nil
	}
	return nil, nil
}

// GetPhoto returns a photo without its picture.
func (s *Room) GetPhoto(ctx context.Context, r api.GetPhotoRequestObject) (api.GetPhotoResponseObject, error) {
	out, err := s.photo(ctx, r.Id)
	return api.GetPhoto200JSONResponse(out), err
}

// MarkPhoto keeps title and marks.
func (s *Room) MarkPhoto(ctx context.Context, r api.MarkPhotoRequestObject) (api.MarkPhotoResponseObject, error) {
	now, err := s.store.Photo(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	for i, p := range r.Body.Points {
		if !(p.X >= 0 && p.Y >= 0 && p.X <= float64(now.Width) && p.Y <= float64(now.Height)) {
			return nil, problem.Field(fmt.Sprintf("/points/%d", i), fmt.Sprintf("a place on the picture, which is %d × %d", now.Width, now.Height))
		}
	}
	title := now.Title
	if r.Body.Title != nil {
		title = strings.TrimSpace(*r.Body.Title)
	}
	points, err := json.Marshal(api.List(r.Body.Points))
	if err != nil {
		return nil, err
	}
	var of *store.Evidence
	if r.Body.Of != nil {
		e, err := s.evidenceOf(ctx, r.Body.Of)
		if err != nil {
			return nil, err
		}
		of = &e
	}
	if err := s.store.MarkPhoto(ctx, r.Id, r.Body.Base, title, points, of); err != nil {
		if errors.Is(err, store.ErrChanged) {
			return nil, errPhotoChanged
		}
		return nil, err
	}
	out, err := s.photo(ctx, r.Id)
	return api.MarkPhoto200JSONResponse(out), err
}

// GetPicture returns the picture itself.
func (s *Room) GetPicture(ctx context.Context, r api.GetPictureRequestObject) (api.GetPictureResponseObject, error) {
	size := "full"
	if r.Params.Size != nil {
		size = string(*r.Params.Size)
	}
	data, err := s.store.Picture(ctx, r.Id, size)
	if err != nil {
		return nil, err
	}
	return api.GetPicture200ImagejpegResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data))}, nil
}
