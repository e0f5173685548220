package server

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/regear"
	"zorvel/core/speedo"
	"zorvel/core/tire"
	"zorvel/internal/programmer"
	"zorvel/internal/store"
)

func (a answer) VisitWorkTiresResponse(w http.ResponseWriter) error   { return a.write(w) }
func (a answer) VisitRegearResponse(w http.ResponseWriter) error      { return a.write(w) }
func (a answer) VisitSpeedometerResponse(w http.ResponseWriter) error { return a.write(w) }

// readIn reads a body that the contract has validated.
func readIn(raw json.RawMessage, to any) error {
	if err := json.Unmarshal(raw, to); err != nil {
		return fault.New("", "can't be read: %v", err)
	}
	return nil
}

// readDriveline reads a driveline document as strictly as its own endpoint
// does; nil where there is none.
func readDriveline(raw json.RawMessage) (*driveline.Document, error) {
	if raw == nil {
		return nil, nil
	}
	doc, err := driveline.Parse(raw)
	if err != nil {
		return nil, fault.Under("driveline", err)
	}
	return doc, nil
}

// WorkTires answers for tires.
func (s *Server) WorkTires(_ context.Context, r api.WorkTiresRequestObject) (api.WorkTiresResponseObject, error) {
	var q struct {
		Tires []tire.Tire `json:"tires"`
	}
	if err := readIn(*r.Body, &q); err != nil {
		return nil, err
	}
	var out struct {
		Tires   []*tire.Answer `json:"tires"`
		Changes []*tire.Change `json:"changes"`
	}
	out.Changes = []*tire.Change{}
	var errs fault.Errors
	for i, t := range q.Tires {
		a, err := tire.Work(t)
		if err != nil {
			errs = append(errs, faults(fault.Under("tires/"+itoa(i), err))...)
			continue
		}
		out.Tires = append(out.Tires, a)
		if i > 0 && len(errs) == 0 {
			out.Changes = append(out.Changes, tire.Compare(out.Tires[0], a))
		}
	}
	return answer{out}, errs.Err()
}

func faults(err error) fault.Errors {
	switch e := err.(type) {
	case *fault.Error:
		return fault.Errors{e}
	case fault.Errors:
		return e
	}
	return fault.Errors{fault.New("", "%v", err)}
}

// regearIn reads a request and fills in the shop's lists.
func (s *Server) regearIn(ctx context.Context, raw json.RawMessage) (regear.Request, error) {
	var q struct {
		UseShop   bool            `json:"use_shop"`
		Driveline json.RawMessage `json:"driveline"`
		regear.Request
	}
	if err := readIn(raw, &q); err != nil {
		return q.Request, err
	}
	out := q.Request
	var err error
	if out.Driveline, err = readDriveline(q.Driveline); err != nil || !q.UseShop {
		return out, err
	}
	fill := func(f func() error) {
		if err == nil {
			err = f()
		}
	}
	sh := &out.Shop
	member := person(ctx) != nil
	fill(func() (e error) {
		if sh.Sets == nil {
			sh.Sets, e = entries(ctx, s, catalog.GearSets, func(id string, r catalog.Row) (regear.GearSet, bool) { return r.GearSet(id) })
		}
		return e
	})
	fill(func() (e error) {
		if sh.LowSets == nil {
			sh.LowSets, e = entries(ctx, s, catalog.GearSets, func(id string, r catalog.Row) (regear.LowSet, bool) { return r.LowSet(id) })
		}
		return e
	})
	fill(func() (e error) {
		if sh.Tires == nil {
			sh.Tires, e = entries(ctx, s, catalog.Tires, always(catalog.Row.Stocked))
		}
		return e
	})
	fill(func() (e error) {
		if sh.Rule == nil {
			sh.Rule, e = entries(ctx, s, catalog.Rule, always(catalog.Row.Rule))
		}
		return e
	})
	fill(func() (e error) {
		if sh.Factory == nil {
			sh.Factory, e = entries(ctx, s, catalog.Factory, always(catalog.Row.Factory))
		}
		return e
	})
	fill(func() (e error) {
		if sh.Prices == nil && member {
			sh.Prices, e = entries(ctx, s, catalog.Prices, always(catalog.Row.Price))
		}
		return e
	})
	if !member { // prices are for people of the shop
		for i := range sh.Sets {
			sh.Sets[i].Price = exact.Figure{}
		}
		for i := range sh.LowSets {
			sh.LowSets[i].Price = exact.Figure{}
		}
	}
	return out, err
}

// Regear plans a re-gear.
func (s *Server) Regear(ctx context.Context, r api.RegearRequestObject) (api.RegearResponseObject, error) {
	q, err := s.regearIn(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	p, err := regear.Work(q)
	if err != nil {
		return nil, err
	}
	return answer{p}, nil
}

// speedoIn reads a request and fills in the shop's lists.
func (s *Server) speedoIn(ctx context.Context, raw json.RawMessage) (speedo.Request, error) {
	var q struct {
		UseShop   bool            `json:"use_shop"`
		Family    string          `json:"family"`
		Driveline json.RawMessage `json:"driveline"`
		speedo.Request
	}
	if err := readIn(raw, &q); err != nil {
		return q.Request, err
	}
	out := q.Request
	var err error
	m := out.Mechanical
	if out.Driveline, err = readDriveline(q.Driveline); err != nil || !q.UseShop || m == nil {
		return out, err
	}
	if q.Family = strings.TrimSpace(q.Family); q.Family == "" && out.Driveline != nil {
		q.Family = takeOffFamily(out.Driveline, out.TakeOff)
	}
	if q.Family == "" && (m.Drives == nil || m.Driven == nil) {
		if err = s.oneFamily(ctx); err != nil {
			return out, err
		}
	}
	fits := func(r catalog.Row) bool {
		return q.Family == "" || strings.EqualFold(strings.TrimSpace(q.Family), r["family"])
	}
	gears := func(role string) func(string, catalog.Row) (speedo.Gear, bool) {
		return func(_ string, r catalog.Row) (speedo.Gear, bool) { return r.SpeedoGear(), r["role"] == role && fits(r) }
	}
	if m.Drives == nil {
		if m.Drives, err = entries(ctx, s, catalog.SpeedoGears, gears("drive")); err != nil {
			return out, err
		}
	}
	if m.Driven == nil {
		if m.Driven, err = entries(ctx, s, catalog.SpeedoGears, gears("driven")); err != nil {
			return out, err
		}
	}
	if m.Housings == nil {
		if m.Housings, err = entries(ctx, s, catalog.Housings, func(_ string, r catalog.Row) (speedo.Housing, bool) { return r.Housing(), fits(r) }); err != nil {
			return out, err
		}
	}
	if m.Adapters == nil {
		m.Adapters, err = entries(ctx, s, catalog.Adapters, always(catalog.Row.Adapter))
	}
	return out, err
}

// takeOffFamily is the family of the part that the take-off lies at, else of
// the transfer case or the gearbox.
func takeOffFamily(d *driveline.Document, shaft string) string {
	part, _, _ := strings.Cut(shaft, ".")
	found := ""
	for _, p := range d.Parts {
		switch {
		case p.ID == part && p.Family != "":
			return p.Family
		case p.Kind == "transfer_case" && p.Family != "", p.Kind == "gearbox" && found == "":
			found = p.Family
		}
	}
	return found
}

// oneFamily refuses to choose among gears of families that don't mesh.
func (s *Server) oneFamily(ctx context.Context) error {
	names, err := entries(ctx, s, catalog.SpeedoGears, func(_ string, r catalog.Row) (string, bool) { return r["family"], true })
	if err != nil {
		return err
	}
	slices.Sort(names)
	if names = slices.Compact(names); len(names) > 1 {
		return fault.New("family", "gears of different families don't go together: choose one of %s", strings.Join(names, ", "))
	}
	return nil
}

// Speedometer answers for gears, calibration and checks.
func (s *Server) Speedometer(ctx context.Context, r api.SpeedometerRequestObject) (api.SpeedometerResponseObject, error) {
	q, err := s.speedoIn(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	a, err := speedo.Work(q)
	if err != nil {
		return nil, err
	}
	return answer{a}, nil
}

func decisionOut(d store.Decision) api.Decision {
	return api.Decision{Id: d.ID, Kind: api.DecisionKind(d.Kind), Title: d.Title, Note: d.Note, By: d.By, At: d.At, Question: d.Question, Answer: d.Answer}
}

// ListDecisions lists what was decided for a unit.
func (s *Server) ListDecisions(ctx context.Context, r api.ListDecisionsRequestObject) (api.ListDecisionsResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	if _, err := s.store.Unit(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := s.store.Decisions(ctx, r.Id)
	out := make(api.ListDecisions200JSONResponse, len(list))
	for i, d := range list {
		out[i] = api.DecisionSummary{Id: d.ID, Kind: api.DecisionKind(d.Kind), Title: d.Title, Note: d.Note, By: d.By, At: d.At}
	}
	return out, err
}

// GetDecision returns one decision with everything it was based on.
func (s *Server) GetDecision(ctx context.Context, r api.GetDecisionRequestObject) (api.GetDecisionResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	d, err := s.store.Decision(ctx, r.Id)
	return api.GetDecision200JSONResponse(decisionOut(d)), err
}

// Decide answers the question once more and keeps it with its answer.
func (s *Server) Decide(ctx context.Context, r api.DecideRequestObject) (api.DecideResponseObject, error) {
	p, err := writer(ctx)
	if err != nil {
		return nil, err
	}
	if _, err := s.store.Unit(ctx, r.Id); err != nil {
		return nil, err
	}
	d := store.Decision{UnitID: r.Id, Kind: string(r.Body.Kind), Note: strings.TrimSpace(deref(r.Body.Note)), By: p.Name}
	switch r.Body.Kind {
	case "regear":
		if r.Body.Regear == nil {
			return nil, refuseField("/regear", "the question is needed, as for /calc/regear")
		}
		err = s.decideRegear(ctx, *r.Body.Regear, deref(r.Body.Currency), &d)
	default:
		if r.Body.Speedometer == nil {
			return nil, refuseField("/speedometer", "the question is needed, as for /calc/speedometer")
		}
		err = s.decideSpeedo(ctx, *r.Body.Speedometer, deref(r.Body.Drive), deref(r.Body.Driven), &d)
	}
	if err != nil {
		return nil, err
	}
	if d, err = s.store.Decide(ctx, d); err != nil {
		return nil, err
	}
	return api.Decide201JSONResponse(decisionOut(d)), nil
}

// regearRecord is what stays of a plan: the candidate that was taken with its
// figures, and what it was chosen from.
type regearRecord struct {
	Currency string            `json:"currency,omitempty"`
	Chosen   *regear.Candidate `json:"chosen"`
	Variant  *regear.Variant   `json:"variant"`
	Plan     *regear.Plan      `json:"plan"`
}

func (s *Server) decideRegear(ctx context.Context, raw json.RawMessage, currency string, d *store.Decision) error {
	q, err := s.regearIn(ctx, raw)
	if err != nil {
		return fault.Under("regear", err)
	}
	p, err := regear.Work(q)
	if err != nil {
		return fault.Under("regear", err)
	}
	rec := regearRecord{Currency: currency, Plan: p}
	for i := range p.Candidates {
		if p.Candidates[i].ID == p.Estimate.Candidate {
			rec.Chosen = &p.Candidates[i]
		}
	}
	rec.Variant = &p.TiresOnly
	for i := range p.Variants {
		if p.Variants[i].ID == rec.Chosen.Variant {
			rec.Variant = &p.Variants[i]
		}
	}
	d.Title = "Tires changed: " + rec.Chosen.Name
	if rec.Chosen.ID == "leave" {
		d.Title = "Tires changed: gears left at " + p.Fitted.Decimal(2)
	}
	d.Title += fmt.Sprintf(", estimate %s to %s", p.Estimate.Low.Decimal(2), p.Estimate.High.Decimal(2))
	// Every gear of every ratio that was not taken is worked out again from
	// the question if anyone asks.
	slim := *p
	slim.Variants = []regear.Variant{}
	slim.Candidates = slices.Clone(p.Candidates[:min(10, len(p.Candidates))])
	rec.Plan = &slim
	// Only the sets that fit were weighed.
	q.Shop.Sets = slices.DeleteFunc(slices.Clone(q.Shop.Sets), func(g regear.GearSet) bool {
		return q.Rear.Family != "" && !strings.EqualFold(g.Family, q.Rear.Family) && !strings.EqualFold(g.Family, q.Front.Family)
	})
	if d.Question, err = json.Marshal(q); err != nil {
		return err
	}
	d.Answer, err = json.Marshal(rec)
	return err
}

func (s *Server) decideSpeedo(ctx context.Context, raw json.RawMessage, drive, driven int, d *store.Decision) error {
	q, err := s.speedoIn(ctx, raw)
	if err != nil {
		return fault.Under("speedometer", err)
	}
	if d.Kind == "check" && q.Verify == nil {
		return refuseField("/speedometer/verify", "a check on the road is needed")
	}
	if d.Kind == "speedometer" && q.Mechanical == nil && q.Electronic == nil {
		return refuseField("/speedometer/mechanical", "gears to choose from, or an electronic calibration, are needed")
	}
	a, err := speedo.Work(q)
	if err != nil {
		return fault.Under("speedometer", err)
	}
	var chosen *speedo.Cell
	switch {
	case d.Kind == "check":
		d.Title = "Speedometer checked: " + a.Verified.Text
		if t := a.Verified.Track; t != nil { // the plot can be made again from the track
			q.Verify.GPX, t.Samples = "", []speedo.Sample{}
		}
	case q.Mechanical == nil:
		e := a.Electronic
		d.Title = fmt.Sprintf("Calibration by hand to %s pulses per %s", e.New.Short(2), e.Per)
		if !q.Electronic.Calibrated.IsZero() {
			d.Title += fmt.Sprintf(", %s before", q.Electronic.Calibrated.Short(2))
		}
	default:
		for i := range a.Mechanical.Cells {
			if c := &a.Mechanical.Cells[i]; c.Drive == drive && c.Driven == driven {
				chosen = c
			}
		}
		if chosen == nil {
			return refuseField("/driven", "choose a pair of the grid")
		}
		if chosen.Mark == speedo.MarkLow {
			return refuseField("/driven", fmt.Sprintf("%d and %d teeth read low; that is never recorded as a choice", drive, driven))
		}
		d.Title = fmt.Sprintf("Speedometer gears %d and %d: %s", drive, driven, chosen.Words)
	}
	if d.Question, err = json.Marshal(q); err != nil {
		return err
	}
	d.Answer, err = json.Marshal(map[string]any{"chosen": chosen, "answer": a})
	return err
}

// RegearSheet prints a plan that isn't recorded.
func (s *Server) RegearSheet(ctx context.Context, r api.RegearSheetRequestObject) (api.RegearSheetResponseObject, error) {
	q, err := s.regearIn(ctx, r.Body.Regear)
	if err != nil {
		return nil, fault.Under("regear", err)
	}
	p, err := regear.Work(q)
	if err != nil {
		return nil, fault.Under("regear", err)
	}
	b, err := sheet(p, sheetHead{Title: deref(r.Body.Title), Currency: deref(r.Body.Currency)})
	return api.RegearSheet200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

// GetDecisionSheet prints a recorded re-gear.
func (s *Server) GetDecisionSheet(ctx context.Context, r api.GetDecisionSheetRequestObject) (api.GetDecisionSheetResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	d, err := s.store.Decision(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	if d.Kind != "regear" {
		return nil, refuse(http.StatusNotFound, "No sheet", "Only re-gears have a sheet to print.")
	}
	var rec regearRecord
	if err := json.Unmarshal(d.Answer, &rec); err != nil || rec.Plan == nil || rec.Plan.Change == nil {
		return nil, refuse(http.StatusNotFound, "No sheet", "This decision came in a document without the figures of a sheet.")
	}
	u, err := s.store.Unit(ctx, d.UnitID)
	if err != nil {
		return nil, err
	}
	if rec.Variant != nil {
		rec.Plan.Variants = []regear.Variant{*rec.Variant}
	}
	b, err := sheet(rec.Plan, sheetHead{Title: u.Name, Currency: rec.Currency, By: d.By, At: d.At, Note: d.Note})
	return api.GetDecisionSheet200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

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

// exportDecisions are a unit's decisions for its document.
func (s *Server) exportDecisions(ctx context.Context, unit int64) (*[]api.DocumentDecision, error) {
	list, err := s.store.Decisions(ctx, unit)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	out := make([]api.DocumentDecision, len(list))
	for i, d := range list {
		out[len(list)-1-i] = api.DocumentDecision{Kind: api.DecisionKind(d.Kind), Title: d.Title, Note: some(d.Note), By: d.By, At: d.At, Question: d.Question, Answer: d.Answer}
	}
	return &out, nil
}

func importDecisions(list *[]api.DocumentDecision) []store.Decision {
	var out []store.Decision
	for _, d := range deref(list) {
		out = append(out, store.Decision{Kind: string(d.Kind), Title: d.Title, Note: deref(d.Note), By: d.By, At: d.At.UTC(), Question: d.Question, Answer: d.Answer})
	}
	return out
}
