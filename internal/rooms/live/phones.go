package live

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/hex"
	"encoding/json"
	"errors"
	"net/http"
	"time"

	"github.com/labstack/echo/v5/middleware"

	"zorvel/api"
	"zorvel/core/live"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// phoneRate bounds how often one phone may send.
type phoneRate struct {
	store *middleware.RateLimiterMemoryStore
}

// sendsASecond are what a phone may send; it sends four.
const sendsASecond = 12

func newPhoneRate() *phoneRate {
	return &phoneRate{middleware.NewRateLimiterMemoryStoreWithConfig(middleware.RateLimiterMemoryStoreConfig{
		Rate: sendsASecond, Burst: 4 * sendsASecond, ExpiresIn: 3 * time.Minute,
	})}
}

var errTooOften = problem.New(http.StatusTooManyRequests, "Too often",
	"This phone sends faster than is taken. It goes on by itself.")

func (p *phoneRate) allow(key string) error {
	if ok, err := p.store.Allow(key); err != nil || !ok {
		return errTooOften
	}
	return nil
}

// JoinLive lets a phone in for one shaft of one session.
func (s *Room) JoinLive(ctx context.Context, r api.JoinLiveRequestObject) (api.JoinLiveResponseObject, error) {
	x, err := s.store.Live(ctx, r.Id)
	if errors.Is(err, store.ErrNotFound) {
		return nil, errJoin
	}
	if err != nil {
		return nil, err
	}
	if x.Ended || subtle.ConstantTimeCompare(hash(r.Body.Secret), x.Secret) != 1 {
		return nil, errJoin
	}
	if err := s.phones.allow("join " + hex.EncodeToString(x.Secret)); err != nil {
		return nil, err
	}
	token := rand.Text()
	if err := s.store.JoinLive(ctx, r.Id, string(r.Body.Shaft), hash(token)); err != nil {
		return nil, told(err)
	}
	now, err := s.store.LiveNow(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	s.Changed(r.Id)
	return api.JoinLive200JSONResponse{Token: token, Title: x.Title, Shaft: r.Body.Shaft, Now: now}, nil
}

// AddLivePoints takes what a joined phone sensed.
func (s *Room) AddLivePoints(ctx context.Context, r api.AddLivePointsRequestObject) (api.AddLivePointsResponseObject,
	error) {
	token := hash(r.Body.Token)
	joins, err := s.store.LiveJoins(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	shaft := ""
	for _, j := range joins {
		if subtle.ConstantTimeCompare(j.Token, token) == 1 {
			shaft = j.Shaft
		}
	}
	if shaft == "" {
		return nil, errJoin
	}
	name := hex.EncodeToString(token[:8])
	if err := s.phones.allow(name); err != nil {
		return nil, err
	}
	piece := live.Source{Shaft: live.Shaft(shaft), Motion: r.Body.Motion, Clock: "phone " + name}
	if len(piece.Motion) > 0 {
		if err := piece.Check(); err != nil { // nothing is kept that can't be weighed
			return nil, err
		}
		text, err := json.Marshal([]live.Source{piece})
		if err != nil {
			return nil, err
		}
		if _, err := s.store.AddLive(ctx, r.Id, text, len(piece.Motion)); err != nil {
			return nil, told(err)
		}
	}
	state, err := s.changed(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out := api.AddLivePoints200JSONResponse{Points: state.Points}
	for _, c := range state.Answer.Counts {
		if c.Shaft == live.Shaft(shaft) {
			out.Turns, out.Low, out.High, out.Level = c.Turns, c.Low, c.High, c.Level
		}
	}
	return out, nil
}
