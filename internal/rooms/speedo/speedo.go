package speedo

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/speedo"
	"zorvel/internal/index"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// gearsFromShop fills in the shop's gears where a question asks for them.
func (s *Room) gearsFromShop(ctx context.Context, q speedo.Request) (speedo.Request, error) {
	err := q.Driveline.CheckAs("driveline")
	if err != nil || !q.UseShop || q.Mechanical == nil {
		return q, err
	}
	m := *q.Mechanical
	q.UseShop, q.Mechanical = false, &m
	if q.Family = strings.TrimSpace(q.Family); q.Family == "" && q.Driveline != nil {
		q.Family = takeOffFamily(q.Driveline, q.TakeOff)
	}
	if q.Family == "" && (m.Drives == nil || m.Driven == nil) {
		families, err := s.speedoFamilies(ctx)
		if err != nil {
			return q, err
		}
		if len(families) > 1 { // answered without the shop's gears, and asked
			m.Families = families
			return q, nil
		}
	}
	fits := func(r catalog.Row) bool {
		return q.Family == "" || strings.EqualFold(strings.TrimSpace(q.Family), r["family"])
	}
	gears := func(role string) func(string, catalog.Row) (speedo.Gear, bool) {
		return func(_ string, r catalog.Row) (speedo.Gear, bool) { return r.SpeedoGear(), r["role"] == role && fits(r) }
	}
	if m.Drives == nil {
		if m.Drives, err = index.Entries(ctx, s.index, catalog.SpeedoGears, gears("drive")); err != nil {
			return q, err
		}
	}
	if m.Driven == nil {
		if m.Driven, err = index.Entries(ctx, s.index, catalog.SpeedoGears, gears("driven")); err != nil {
			return q, err
		}
	}
	if m.Housings == nil {
		if m.Housings, err = index.Entries(ctx, s.index, catalog.Housings,
			func(_ string, r catalog.Row) (speedo.Housing, bool) { return r.Housing(), fits(r) }); err != nil {
			return q, err
		}
	}
	if m.Adapters == nil {
		m.Adapters, err = index.Entries(ctx, s.index, catalog.Adapters, index.Always(catalog.Row.Adapter))
	}
	return q, err
}

// takeOffFamily is the family of the part that the take-off lies at, else of
// the transfer case or the gearbox.
func takeOffFamily(d *driveline.Document, shaft string) string {
	part, _, _ := strings.Cut(shaft, ".")
	if p := d.Part(part); p != nil && !p.Has(driveline.DriveShaft) {
		return p.Family // its own gears and no others
	}
	found, likely := "", 0
	for i := range d.Parts {
		if p := &d.Parts[i]; p.Family != "" && p.Traits().ForSpeedo > likely {
			found, likely = p.Family, p.Traits().ForSpeedo
		}
	}
	return found
}

// speedoFamilies lists the families of the shop's speedometer gears, which don't mesh
// with each other.
func (s *Room) speedoFamilies(ctx context.Context) ([]string, error) {
	names, err := index.Entries(ctx, s.index, catalog.SpeedoGears, func(_ string, r catalog.Row) (string, bool) { return r["family"], true })
	slices.Sort(names)
	return slices.Compact(names), err
}

// Speedometer answers for gears, calibration and checks.
func (s *Room) Speedometer(ctx context.Context, r api.SpeedometerRequestObject) (api.SpeedometerResponseObject, error) {
	q, err := s.gearsFromShop(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	a, err := speedo.Work(q)
	if err != nil {
		return nil, err
	}
	return api.Speedometer200JSONResponse(*a), nil
}

func (s *Room) decide(ctx context.Context, b *api.NewDecision, d *store.Decision) error {
	if b.Speedometer == nil {
		return problem.Field("/speedometer", "the question is needed, as for /calc/speedometer")
	}
	raw, drive, driven := *b.Speedometer, api.Value(b.Drive), api.Value(b.Driven)
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
