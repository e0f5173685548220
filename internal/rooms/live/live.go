package live

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"strings"

	"zorvel/api"
	"zorvel/core/fault"
	"zorvel/core/identify"
	"zorvel/core/identify/bench"
	"zorvel/core/live"
	"zorvel/core/road"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// WeighLive weighs what was recorded, without storing anything.
func (s *Room) WeighLive(ctx context.Context, r api.WeighLiveRequestObject) (api.WeighLiveResponseObject, error) {
	var sp *identify.Space
	if w := r.Body.With; w != nil {
		var err error
		if sp, err = s.index.SpaceAsked(ctx, w.Stage, api.Value(w.Prior) == bench.Shop); err != nil {
			return nil, fault.Under("with", err)
		}
	}
	out, err := bench.AnswerLive(ctx, sp, *r.Body)
	if err != nil {
		return nil, err
	}
	return api.WeighLive200JSONResponse(*out), nil
}

// ReadDrive finds the gears in a drive.
func (s *Room) ReadDrive(_ context.Context, r api.ReadDriveRequestObject) (api.ReadDriveResponseObject, error) {
	a, err := road.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.ReadDrive200JSONResponse(*a), nil
}

// ListLive lists live counts.
func (s *Room) ListLive(ctx context.Context, _ api.ListLiveRequestObject) (api.ListLiveResponseObject, error) {
	list, err := s.store.LiveList(ctx, 30)
	if err != nil {
		return nil, err
	}
	out := api.LiveCounts{Counts: []api.LiveBrief{}}
	for _, x := range list {
		out.Counts = append(out.Counts, api.LiveBrief{Id: x.ID, Title: x.Title, StageId: api.Some(x.StageID),
			Ended: x.Ended, By: x.By, At: x.At})
	}
	if out.Sensors, err = s.line(ctx); err != nil {
		return nil, err
	}
	return api.ListLive200JSONResponse(out), nil
}

// OpenLive begins a live count.
func (s *Room) OpenLive(ctx context.Context, r api.OpenLiveRequestObject) (api.OpenLiveResponseObject, error) {
	setup, err := keepSetup(r.Body.Setup)
	if err != nil {
		return nil, err
	}
	secret := rand.Text()
	x := store.LiveSession{Title: strings.TrimSpace(r.Body.Title), StageID: api.Value(r.Body.StageId), Setup: setup,
		Secret:  hash(secret),
		Sensors: len(r.Body.Setup.Channels) > 0, By: signin.Person(ctx).Name}
	if x.Title == "" {
		return nil, fault.New("title", "say what is counted, for example: rear axle")
	}
	if x.StageID != 0 {
		if _, err := s.store.Stage(ctx, x.StageID); err != nil {
			if errors.Is(err, store.ErrNotFound) {
				return nil, fault.New("stage_id", "there is no such ratio")
			}
			return nil, err
		}
	}
	id, err := s.store.NewLive(ctx, x)
	if errors.Is(err, store.ErrFull) {
		return nil, errMany
	}
	if err != nil {
		return nil, err
	}
	state, err := s.state(ctx, id)
	if err != nil {
		return nil, err
	}
	return api.OpenLive201JSONResponse{State: *state, Secret: secret}, nil
}

// hash is what is kept of a secret that is long and random.
func hash(secret string) []byte {
	sum := sha256.Sum256([]byte(secret))
	return sum[:]
}

// keepSetup checks a setup and writes it for the store.
func keepSetup(x api.LiveSetup) ([]byte, error) {
	channels, shafts := map[int]bool{}, map[live.Shaft]bool{}
	for i, c := range x.Channels {
		at := fault.Errors{}
		if channels[c.Channel] {
			at.Add("channel", "channel %d watches one shaft: choose another channel", c.Channel)
		}
		if shafts[c.Shaft] {
			at.Add("shaft", "another channel watches this shaft already")
		}
		channels[c.Channel], shafts[c.Shaft] = true, true
		if err := at.Err(); err != nil {
			return nil, fault.Under("setup/channels/"+string(rune('0'+i)), err)
		}
	}
	if shafts[live.Output] && (shafts[live.Left] || shafts[live.Right]) {
		return nil, fault.New("setup/channels", "watch either the wheels (left, right) or the one output, not both")
	}
	return json.Marshal(x)
}

// GetLive returns a live count.
func (s *Room) GetLive(ctx context.Context, r api.GetLiveRequestObject) (api.GetLiveResponseObject, error) {
	state, err := s.state(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return api.GetLive200JSONResponse(*state), nil
}

// SetLive changes how it is set up.
func (s *Room) SetLive(ctx context.Context, r api.SetLiveRequestObject) (api.SetLiveResponseObject, error) {
	setup, err := keepSetup(r.Body.Setup)
	if err != nil {
		return nil, err
	}
	if err := s.store.SetLive(ctx, r.Id, r.Body.Version, setup, len(r.Body.Setup.Channels) > 0); err != nil {
		return nil, told(err)
	}
	state, err := s.changed(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return api.SetLive200JSONResponse(*state), nil
}

// ClearLive starts it over.
func (s *Room) ClearLive(ctx context.Context, r api.ClearLiveRequestObject) (api.ClearLiveResponseObject, error) {
	if err := s.store.ClearLive(ctx, r.Id); err != nil {
		return nil, told(err)
	}
	state, err := s.changed(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return api.ClearLive200JSONResponse(*state), nil
}

// EndLive ends it.
func (s *Room) EndLive(ctx context.Context, r api.EndLiveRequestObject) (api.EndLiveResponseObject, error) {
	if err := s.store.EndLive(ctx, r.Id, r.Body.Kept); err != nil {
		return nil, told(err)
	}
	state, err := s.changed(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return api.EndLive200JSONResponse(*state), nil
}

// changed tells who follows, and returns how it is.
func (s *Room) changed(ctx context.Context, id int64) (*api.LiveState, error) {
	s.Changed(id)
	return s.state(ctx, id)
}

// GetLiveRecording returns everything that came.
func (s *Room) GetLiveRecording(ctx context.Context,
	r api.GetLiveRecordingRequestObject) (api.GetLiveRecordingResponseObject, error) {
	rec, err := s.recorded(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return api.GetLiveRecording200JSONResponse(rec), nil
}

// GetLiveFile returns it as a file.
func (s *Room) GetLiveFile(ctx context.Context, r api.GetLiveFileRequestObject) (api.GetLiveFileResponseObject, error) {
	rec, err := s.recorded(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	text := live.WriteCSV(rec.Sources)
	return api.GetLiveFile200TextcsvResponse{Body: strings.NewReader(text), ContentLength: int64(len(text))}, nil
}

func (s *Room) recorded(ctx context.Context, id int64) (live.Recording, error) {
	x, err := s.store.Live(ctx, id)
	if err != nil {
		return live.Recording{}, err
	}
	g := &gathered{}
	if err := g.gather(ctx, s.store, x); err != nil {
		return live.Recording{}, err
	}
	rec := recording(setupOf(x), g.sources)
	if rec.Sources == nil {
		rec.Sources = []live.Source{}
	}
	return rec, nil
}
