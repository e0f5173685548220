package server

import (
	"context"

	"zorvel/api"
	"zorvel/core/fault"
	"zorvel/core/findfault"
	"zorvel/internal/store"
)

// FindFault answers which part is broken.
func (s *Server) FindFault(_ context.Context, r api.FindFaultRequestObject) (api.FindFaultResponseObject, error) {
	a, err := findfault.Find(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.FindFault200JSONResponse(*a), nil
}

// ListComplaints lists what people say of such a driveline.
func (s *Server) ListComplaints(_ context.Context, r api.ListComplaintsRequestObject) (api.ListComplaintsResponseObject, error) {
	list, err := findfault.Complaints(&r.Body.Driveline)
	if err != nil {
		return nil, fault.Under("driveline", err)
	}
	return api.ListComplaints200JSONResponse(list), nil
}

func (s *Server) decideFault(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return keep(d, "fault", b.Fault, findfault.Find, func(a *findfault.Answer) string { return "Fault: " + a.Sentence })
}
