package server

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"zorvel/api"
	"zorvel/core/fault"
	"zorvel/core/regear"
	"zorvel/core/speedo"
	"zorvel/internal/paper"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

func decisionOut(d store.Decision) api.Decision {
	return api.Decision{Id: d.ID, Kind: api.DecisionKind(d.Kind), Title: d.Title, Note: d.Note, By: d.By, At: d.At, Question: d.Question, Answer: d.Answer, TakenIn: takenInOut(d.TakenIn)}
}

// ListDecisions lists what was decided for a unit.
func (s *Server) ListDecisions(ctx context.Context, r api.ListDecisionsRequestObject) (api.ListDecisionsResponseObject, error) {
	if _, err := s.store.UnitName(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := s.store.Decisions(ctx, r.Id)
	out := make(api.ListDecisions200JSONResponse, len(list))
	for i, d := range list {
		out[i] = api.DecisionSummary{Id: d.ID, Kind: api.DecisionKind(d.Kind), Title: d.Title, Note: d.Note, By: d.By, At: d.At, Sheet: recordKinds[d.Kind].print != nil, TakenIn: takenInOut(d.TakenIn)}
	}
	return out, err
}

// GetDecision returns one decision with everything it was based on.
func (s *Server) GetDecision(ctx context.Context, r api.GetDecisionRequestObject) (api.GetDecisionResponseObject, error) {
	d, err := s.store.Decision(ctx, r.Id)
	return api.GetDecision200JSONResponse(decisionOut(d)), err
}

// recordKind says what a bench does with its kind of record.
type recordKind struct {
	// answer works the question out once more; nil where a record of this kind
	// comes about otherwise.
	answer func(*Server, context.Context, *api.NewDecision, *store.Decision) error
	// print makes its sheet; nil where it has none.
	print func(store.Decision, store.Unit) ([]byte, error)
}

// recordKinds holds every kind of record. A bench adds its kind here and to the
// contract.
var recordKinds = map[string]recordKind{
	"regear":      {answer: (*Server).decideRegear, print: printRegear},
	"speedometer": {answer: (*Server).decideSpeedo},
	"check":       {answer: (*Server).decideSpeedo},
	"calibration": {},
	"event":       {answer: (*Server).decideEvent},
	"shims":       {answer: (*Server).decideShims},
	"backlash":    {answer: (*Server).decideBacklash},
	"inspection":  {answer: (*Server).decideInspection},
	"card":        {print: printCard},
	"setup":       {answer: (*Server).decideSetup},
	"free_play":   {answer: (*Server).decideFreePlay},
	"fits":        {answer: (*Server).decideFits},
	"fault":       {answer: (*Server).decideFault, print: printFault},
	"repair":      {answer: (*Server).decideRepair},
	"propeller":   {answer: (*Server).decidePropeller},
}

// Decide answers the question once more and keeps it with its answer.
func (s *Server) Decide(ctx context.Context, r api.DecideRequestObject) (api.DecideResponseObject, error) {
	p := person(ctx)
	if _, err := s.store.UnitName(ctx, r.Id); err != nil {
		return nil, err
	}
	d := store.Decision{UnitID: r.Id, Kind: string(r.Body.Kind), Note: strings.TrimSpace(deref(r.Body.Note)), By: p.Name}
	if err := recordKinds[d.Kind].answer(s, ctx, r.Body, &d); err != nil {
		return nil, err
	}
	d, err := s.store.Decide(ctx, d)
	if err != nil {
		return nil, err
	}
	return api.Decide201JSONResponse(decisionOut(d)), nil
}

// regearRecord is what stays of a plan: the candidate that was taken with its
// figures, and what it was chosen from.
type regearRecord struct {
	Currency string            `json:"currency,omitempty"`
	Speeds   string            `json:"speed_unit,omitempty"`
	Chosen   *regear.Candidate `json:"chosen"`
	Variant  *regear.Variant   `json:"variant"`
	Plan     *regear.Plan      `json:"plan"`
}

func (s *Server) decideRegear(ctx context.Context, b *api.NewDecision, d *store.Decision) error {
	if b.Regear == nil {
		return problem.Field("/regear", "the question is needed, as for /calc/regear")
	}
	raw, currency := *b.Regear, deref(b.Currency)
	q, err := s.fromShop(ctx, raw)
	if err != nil {
		return fault.Under("regear", err)
	}
	p, err := regear.Work(q)
	if err != nil {
		return fault.Under("regear", err)
	}
	if currency == "" {
		currency = p.Currency
	}
	rec := regearRecord{Currency: currency, Speeds: q.SpeedUnit, Plan: p}
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
	d.Title += strings.TrimRight(fmt.Sprintf(", estimate %s to %s %s", p.Estimate.Low.Decimal(2), p.Estimate.High.Decimal(2), currency), " ")
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

func (s *Server) decideSpeedo(ctx context.Context, b *api.NewDecision, d *store.Decision) error {
	if b.Speedometer == nil {
		return problem.Field("/speedometer", "the question is needed, as for /calc/speedometer")
	}
	raw, drive, driven := *b.Speedometer, deref(b.Drive), deref(b.Driven)
	q, err := s.gearsFromShop(ctx, raw)
	if err != nil {
		return fault.Under("speedometer", err)
	}
	if d.Kind == "check" && q.Verify == nil {
		return problem.Field("/speedometer/verify", "a check on the road is needed")
	}
	if d.Kind == "speedometer" && q.Mechanical == nil && q.Electronic == nil {
		return problem.Field("/speedometer/mechanical", "gears to choose from, or an electronic calibration, are needed")
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
		d.Title = fmt.Sprintf("Calibration by hand to %s pulses per %s", e.New.Short(1), e.Per)
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
			return problem.Field("/driven", "choose a pair of the grid")
		}
		if chosen.Mark == speedo.MarkLow {
			return problem.Field("/driven", fmt.Sprintf("%d and %d teeth read low; that is never recorded as a choice", drive, driven))
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
	q, err := s.fromShop(ctx, r.Body.Regear)
	if err != nil {
		return nil, fault.Under("regear", err)
	}
	p, err := regear.Work(q)
	if err != nil {
		return nil, fault.Under("regear", err)
	}
	head := paper.Heading{Title: deref(r.Body.Title), Currency: cmp.Or(deref(r.Body.Currency), p.Currency), Speeds: q.SpeedUnit}
	b, err := paper.Regear(p, head)
	return api.RegearSheet200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

var errNoFigures = problem.New(http.StatusNotFound, "No sheet", "This decision came in a document without the figures of a sheet.")

// recordedSheet prints a plan that is on record. One that came in a document, or
// from an older program, may lack any figure; what can't be printed is told.
func recordedSheet(p *regear.Plan, h paper.Heading) (b []byte, err error) {
	defer func() {
		if recover() != nil {
			b, err = nil, errNoFigures
		}
	}()
	return paper.Regear(p, h)
}

func printRegear(d store.Decision, u store.Unit) ([]byte, error) {
	var rec regearRecord
	if err := json.Unmarshal(d.Answer, &rec); err != nil || rec.Plan == nil || rec.Plan.Change == nil {
		return nil, errNoFigures
	}
	if rec.Variant != nil {
		rec.Plan.Variants = []regear.Variant{*rec.Variant}
	}
	takenIn := ""
	if x := d.TakenIn; x != nil {
		takenIn = x.By + " on " + x.At.Format("2 January 2006")
	}
	return recordedSheet(rec.Plan, paper.Heading{
		Title: u.Name, Currency: rec.Currency, Speeds: rec.Speeds, By: d.By, At: d.At, Note: d.Note, TakenIn: takenIn,
	})
}

// GetDecisionSheet prints a record that has a sheet.
func (s *Server) GetDecisionSheet(ctx context.Context, r api.GetDecisionSheetRequestObject) (api.GetDecisionSheetResponseObject, error) {
	d, err := s.store.Decision(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	print := recordKinds[d.Kind].print
	if print == nil {
		return nil, problem.New(http.StatusNotFound, "No sheet", "This kind of record has no sheet to print.")
	}
	u, err := s.store.Unit(ctx, d.UnitID)
	if err != nil {
		return nil, err
	}
	b, err := print(d, u)
	if err != nil {
		return nil, err
	}
	return api.GetDecisionSheet200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

// exportDecisions are a unit's decisions for its document.
func (s *Server) exportDecisions(ctx context.Context, unit int64) (*[]api.DocumentDecision, error) {
	list, err := s.store.EveryDecision(ctx, unit)
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
