package sensors

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"slices"
	"time"

	"zorvel/core/live"
	"zorvel/internal/guard"
	"zorvel/internal/store"
)

// Recorder adds what the sensors tell to all open live counts that they count for. Of
// several servers one records: the others wait for its lease.
type Recorder struct {
	Client  *Client
	Store   *store.Store
	Log     *slog.Logger
	Changed func(id int64) // told when something came to a session

	offsets map[int64]offset
	said    string
}

// offset leads from the device's clock to a session's time.
type offset struct {
	epoch   int
	seconds float64
}

// How often pulses go to the store, and sessions are looked for.
const (
	writeEvery = 40 * time.Millisecond
	lookEvery  = 400 * time.Millisecond
)

// Run records until ctx is done.
func (r *Recorder) Run(ctx context.Context) {
	for ctx.Err() == nil {
		lease, err := r.Store.Lease(ctx, "shaft sensors")
		if err != nil {
			if ctx.Err() == nil {
				r.Log.Warn("waiting to record the shaft sensors", "error", err)
			}
			guard.Pause(ctx, time.Second)
			continue
		}
		r.record(lease.Lost())
		lease.End()
	}
}

// record follows the line and writes, while the lease lasts.
func (r *Recorder) record(ctx context.Context) {
	guard.Go(ctx, r.Log, "shaft sensors", r.Client.Run)
	r.offsets = map[int64]offset{}
	r.said = ""
	var open []store.LiveSession
	looked := time.Time{}
	for ctx.Err() == nil {
		if time.Since(looked) > lookEvery {
			if list, err := r.Store.LiveWithSensors(ctx); err == nil {
				open = list
			} else if ctx.Err() == nil {
				r.Log.Warn("looking for live counts", "error", err)
			}
			r.tell(ctx)
			looked = time.Now()
		}
		if b := r.Client.Take(); len(b.Pulses) > 0 {
			for _, x := range open {
				r.add(ctx, x, b)
			}
		}
		guard.Pause(ctx, writeEvery)
	}
}

// tell keeps how the line is, where that changed.
func (r *Recorder) tell(ctx context.Context) {
	l := r.Client.Line()
	channels, err := json.Marshal(l.Channels)
	if err != nil {
		return
	}
	x := store.LiveLine{Address: r.Client.line.Addr, Connected: l.Connected, Trouble: l.Trouble, Channels: channels}
	now, _ := json.Marshal(x)
	if string(now) == r.said {
		return
	}
	if err := r.Store.TellLiveLine(ctx, x); err == nil {
		r.said = string(now)
	}
}

// add writes a batch to a session, by the channels that it is set up for.
func (r *Recorder) add(ctx context.Context, x store.LiveSession, b Batch) {
	var setup struct {
		Channels []struct {
			Channel int        `json:"channel"`
			Shaft   live.Shaft `json:"shaft"`
			Marks   int        `json:"marks"`
		} `json:"channels"`
	}
	if json.Unmarshal(x.Setup, &setup) != nil {
		return
	}
	o, ok := r.offsets[x.ID]
	if !ok || o.epoch != b.Epoch {
		now, err := r.Store.LiveNow(ctx, x.ID)
		if err != nil {
			return
		}
		o = offset{b.Epoch, now - float64(b.Pulses[len(b.Pulses)-1].Micros)/1e6}
		r.offsets[x.ID] = o
	}
	var out []live.Source
	points := 0
	for _, c := range setup.Channels {
		s := live.Source{Shaft: c.Shaft, Marks: c.Marks, Clock: "sensors"}
		for _, p := range b.Pulses {
			if p.Channel != c.Channel {
				continue
			}
			s.Times = append(s.Times, float64(p.Micros)/1e6+o.seconds)
			s.Ways = append(s.Ways, p.Way)
		}
		if len(s.Times) == 0 {
			continue
		}
		if slices.Contains(s.Ways, 0) {
			s.Ways = nil
		}
		slices.Sort(s.Times)
		points += len(s.Times)
		out = append(out, s)
	}
	if points == 0 {
		return
	}
	text, err := json.Marshal(out)
	if err != nil {
		return
	}
	switch _, err := r.Store.AddLive(ctx, x.ID, text, points); {
	case err == nil:
		r.Changed(x.ID)
	case errors.Is(err, store.ErrLiveEnded), errors.Is(err, store.ErrFull), errors.Is(err, store.ErrNotFound):
	case ctx.Err() == nil:
		r.Log.Warn("writing to a live count", "id", x.ID, "error", err)
	}
}
