package server

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"

	"zorvel/api"
	"zorvel/internal/programmer"
	"zorvel/internal/store"
)

// GetProgrammer reads the calibration programmer.
func (s *Server) GetProgrammer(ctx context.Context, _ api.GetProgrammerRequestObject) (api.GetProgrammerResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	out := api.ProgrammerState{}
	if s.device == nil {
		return api.GetProgrammer200JSONResponse(out), nil
	}
	out.Configured, out.Address = true, &s.device.Addr
	st, err := s.device.State(ctx)
	if err != nil {
		out.Trouble = some(programmer.Trouble(err))
		return api.GetProgrammer200JSONResponse(out), nil
	}
	out.Reached, out.Device, out.PulsesPerKm, out.From, out.To, out.Simulated = true, &st.Device, &st.PulsesKM, &st.From, &st.To, &st.Simulated
	return api.GetProgrammer200JSONResponse(out), nil
}

// SimulateFault tells the stand-in how to fail.
func (s *Server) SimulateFault(ctx context.Context, r api.SimulateFaultRequestObject) (api.SimulateFaultResponseObject, error) {
	if _, err := writer(ctx); err != nil {
		return nil, err
	}
	if err := s.needDevice(); err != nil {
		return nil, err
	}
	if err := s.device.Simulate(ctx, string(r.Body.Fault)); err != nil {
		return nil, refuse(http.StatusConflict, "Not a stand-in", programmer.Trouble(err))
	}
	return api.SimulateFault204Response{}, nil
}

func (s *Server) needDevice() error {
	if s.device == nil {
		return refuse(http.StatusConflict, "No programmer", "No calibration programmer is set up: start the server with --programmer host:port.")
	}
	return nil
}

// Calibrate writes a calibration and records it, whatever happens.
func (s *Server) Calibrate(ctx context.Context, r api.CalibrateRequestObject) (api.CalibrateResponseObject, error) {
	p, err := writer(ctx)
	if err != nil {
		return nil, err
	}
	if _, err := s.store.Unit(ctx, r.Id); err != nil {
		return nil, err
	}
	if err := s.needDevice(); err != nil {
		return nil, err
	}
	// Once begun it is seen through, even if whoever asked goes away.
	ctx = context.WithoutCancel(ctx)
	o := s.device.Calibrate(ctx, r.Body.PulsesPerKm)
	out := api.Calibration{Written: o.Written, Wanted: o.Wanted, Before: o.Before, After: o.After, Step: some(o.Step), Text: o.Text}
	d := store.Decision{UnitID: r.Id, Kind: "calibration", By: p.Name, Note: strings.TrimSpace(deref(r.Body.Note))}
	d.Title = fmt.Sprintf("Calibration to %s pulses per km", trimFloat(o.Wanted))
	if !o.Written {
		d.Title += " failed"
	}
	if o.Before != nil {
		d.Title += fmt.Sprintf(", %s before", trimFloat(*o.Before))
	}
	if d.Question, err = json.Marshal(r.Body); err != nil {
		return nil, err
	}
	if d.Answer, err = json.Marshal(out); err != nil {
		return nil, err
	}
	d, err = s.store.Decide(ctx, d)
	if err != nil {
		return nil, err
	}
	out.Decision = &d.ID
	return api.Calibrate201JSONResponse(out), nil
}
