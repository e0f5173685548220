package driveline

import (
	"context"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/driveline/grip"
	"zorvel/core/driveline/network"
	"zorvel/core/driveline/trace"
	"zorvel/core/fault"
)

// Driveline traces a driveline or a bare network.
func (s *Room) Driveline(_ context.Context, r api.DrivelineRequestObject) (api.DrivelineResponseObject, error) {
	q := r.Body
	st := api.Value(q.State)
	switch {
	case q.Driveline != nil && q.Network != nil:
		return nil, fault.New("network", "send a driveline or a network, not both")
	case q.Network != nil:
		rep, err := network.Answer(*q.Network, st.Losses)
		return api.Driveline200JSONResponse{Network: rep}, fault.Under("network", err)
	case q.Driveline == nil:
		return nil, fault.New("driveline", "is needed; or a bare network")
	}
	if err := q.Driveline.Check(); err != nil {
		return nil, fault.Under("driveline", err)
	}
	t, err := trace.Run(q.Driveline, st, api.Value(q.Want))
	return api.Driveline200JSONResponse{Trace: t}, err
}

// Traction finds the greatest drive force.
func (s *Room) Traction(_ context.Context, r api.TractionRequestObject) (api.TractionResponseObject, error) {
	q := r.Body
	if err := q.Driveline.Check(); err != nil {
		return nil, fault.Under("driveline", err)
	}
	t, err := grip.Pull(&q.Driveline, api.Value(q.State), q.Grip)
	if err != nil {
		return nil, err
	}
	return api.Traction200JSONResponse(*t), nil
}

// ListLayouts lists ready drivelines.
func (s *Room) ListLayouts(context.Context, api.ListLayoutsRequestObject) (api.ListLayoutsResponseObject, error) {
	return api.ListLayouts200JSONResponse(driveline.Layouts()), nil
}
