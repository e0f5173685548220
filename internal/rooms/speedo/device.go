package speedo

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"time"

	"zorvel/api"
	"zorvel/core/say"
	"zorvel/internal/problem"
	"zorvel/internal/programmer"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// GetProgrammer reads the calibration programmer.
func (s *Room) GetProgrammer(ctx context.Context, _ api.GetProgrammerRequestObject) (api.GetProgrammerResponseObject, error) {
	out := api.ProgrammerState{}
	if s.device == nil {
		return api.GetProgrammer200JSONResponse(out), nil
	}
	out.Configured, out.Address = true, &s.device.Addr
	st, err := s.device.State(ctx)
	if err != nil {
		out.Trouble = api.Some(programmer.Trouble(err))
		return api.GetProgrammer200JSONResponse(out), nil
	}
	out.Reached, out.Device, out.PulsesPerKm, out.From, out.To, out.Simulated = true, &st.Device, &st.PulsesKM, &st.From, &st.To, &st.Simulated
	return api.GetProgrammer200JSONResponse(out), nil
}

// SimulateFault tells the stand-in how to fail.
func (s *Room) SimulateFault(ctx context.Context, r api.SimulateFaultRequestObject) (api.SimulateFaultResponseObject, error) {
	if err := s.needDevice(); err != nil {
		return nil, err
	}
	if err := s.device.Simulate(ctx, string(r.Body.Fault)); err != nil {
		return nil, problem.New(http.StatusConflict, "Not a stand-in", programmer.Trouble(err))
	}
	return api.SimulateFault204Response{}, nil
}

func (s *Room) needDevice() error {
	if s.device == nil {
		return problem.New(http.StatusConflict, "No programmer", "No calibration programmer is set up: start the server with --programmer host:port.")
	}
	return nil
}

// deviceTime bounds a calibration with its records; each step on the wire has
// its own, shorter bound.
const deviceTime = 40 * time.Second

// Calibrate writes a calibration. That it begins is on record before the device
// is touched, so that whatever happens to this program or its database, nobody
// later takes an unrecorded write for none: what isn't settled reads "not known".
func (s *Room) Calibrate(ctx context.Context, r api.CalibrateRequestObject) (api.CalibrateResponseObject, error) {
	p := signin.Person(ctx)
	if _, err := s.store.UnitName(ctx, r.Id); err != nil {
		return nil, err
	}
	if err := s.needDevice(); err != nil {
		return nil, err
	}
	// One calibration at a time: the device holds one value.
	select {
	case s.writing <- struct{}{}:
		defer func() { <-s.writing }()
	case <-ctx.Done():
		return nil, ctx.Err()
	case <-time.After(deviceTime / 4):
		return nil, problem.New(http.StatusConflict, "The programmer is in use", "Someone else is calibrating through it; try again in a moment.")
	}
	wanted := r.Body.PulsesPerKm
	out := api.Calibration{Wanted: wanted, Step: api.Some("begun"),
		Text: "Begun; what came of it is not known. Read the programmer back before you trust either value."}
	d := store.Decision{UnitID: r.Id, Kind: "calibration", By: p.Name, Note: strings.TrimSpace(api.Value(r.Body.Note)),
		Title: fmt.Sprintf("Calibration to %s pulses per km begun, outcome not known", say.Trim(wanted, 6))}
	var err error
	if d.Question, err = json.Marshal(r.Body); err != nil {
		return nil, err
	}
	if d.Answer, err = json.Marshal(out); err != nil {
		return nil, err
	}
	if d, err = s.store.Decide(ctx, d); err != nil {
		return nil, err
	}
	// Once begun it is seen through, even if whoever asked goes away.
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), deviceTime)
	defer cancel()
	o := s.device.Calibrate(ctx, wanted)
	out = api.Calibration{Written: o.Written, Wanted: o.Wanted, Before: o.Before, After: o.After, Step: api.Some(o.Step),
		Text: o.Text, Decision: &d.ID}
	d.Title = fmt.Sprintf("Calibration to %s pulses per km", say.Trim(o.Wanted, 6))
	if !o.Written {
		d.Title += " failed"
	}
	if o.Before != nil {
		d.Title += fmt.Sprintf(", %s before", say.Trim(*o.Before, 6))
	}
	if d.Answer, err = json.Marshal(out); err != nil {
		return nil, err
	}
	if err := s.store.Settle(ctx, d); err != nil {
		s.log.Error("a calibration's outcome isn't recorded", "decision", d.ID, "written", o.Written, "error", err)
		out.Text += " This outcome could not be recorded: the record says that it was begun."
	}
	return api.Calibrate201JSONResponse(out), nil
}
