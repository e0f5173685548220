package regear

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/regear"
	"zorvel/core/say"
	"zorvel/core/tire"
	"zorvel/internal/index"
	"zorvel/internal/paper"
	"zorvel/internal/problem"
	"zorvel/internal/record"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// WorkTires answers for tires.
func (s *Room) WorkTires(_ context.Context, r api.WorkTiresRequestObject) (api.WorkTiresResponseObject, error) {
	out := api.WorkTires200JSONResponse{Changes: []tire.Change{}}
	var errs fault.Errors
	var axle []exact.Number
	if a := r.Body.Axle; a != nil {
		if err := fault.Figures(*a); err != nil || a.Sign() <= 0 || a.Cmp(exact.Int(100)) > 0 {
			return nil, fault.New("axle", "the axle ratio, from above 0 to 100, as 41/11 or 3.73")
		}
		axle = append(axle, a.Number)
	}
	for i, t := range r.Body.Tires {
		a, err := tire.Work(t)
		if err != nil {
			errs = append(errs, fault.List(fault.Under("tires/"+strconv.Itoa(i), err))...)
			continue
		}
		out.Tires = append(out.Tires, *a)
		if i > 0 && len(errs) == 0 {
			out.Changes = append(out.Changes, *tire.Compare(&out.Tires[0], a, axle...))
		}
	}
	return out, errs.Err()
}

// fromShop fills in the shop's lists where a question asks for them.
func (s *Room) fromShop(ctx context.Context, out regear.Request) (regear.Request, error) {
	err := out.Driveline.CheckAs("driveline")
	if err != nil || !out.UseShop {
		return out, err
	}
	out.UseShop = false
	fill := func(f func() error) {
		if err == nil {
			err = f()
		}
	}
	sh := &out.Shop
	member := signin.Person(ctx) != nil
	fill(func() (e error) {
		if sh.Sets == nil {
			sh.Sets, e = index.Entries(ctx, s.index, catalog.GearSets,
				func(id string, r catalog.Row) (regear.GearSet, bool) { return r.GearSet(id) })
		}
		return e
	})
	fill(func() (e error) {
		if sh.LowSets == nil {
			sh.LowSets, e = index.Entries(ctx, s.index, catalog.GearSets,
				func(id string, r catalog.Row) (regear.LowSet, bool) { return r.LowSet(id) })
		}
		return e
	})
	fill(func() (e error) {
		if sh.HighSets == nil {
			sh.HighSets, e = index.Entries(ctx, s.index, catalog.GearSets,
				func(id string, r catalog.Row) (regear.LowSet, bool) { return r.HighSet(id) })
		}
		return e
	})
	fill(func() (e error) {
		if sh.Tires == nil {
			sh.Tires, e = index.Entries(ctx, s.index, catalog.Tires, index.Always(catalog.Row.Stocked))
		}
		return e
	})
	fill(func() (e error) {
		if sh.Rule == nil {
			sh.Rule, e = index.Entries(ctx, s.index, catalog.Rule, index.Always(catalog.Row.Rule))
		}
		return e
	})
	fill(func() (e error) {
		if out.Currency == "" {
			out.Currency, e = s.currency(ctx)
		}
		return e
	})
	fill(func() (e error) {
		if sh.Factory == nil {
			sh.Factory, e = index.Entries(ctx, s.index, catalog.Factory, index.Always(catalog.Row.Factory))
		}
		return e
	})
	fill(func() (e error) {
		if sh.Prices == nil && member {
			sh.Prices, e = index.Entries(ctx, s.index, catalog.Prices, index.Always(catalog.Row.Price))
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
		for i := range sh.HighSets {
			sh.HighSets[i].Price = exact.Figure{}
		}
	}
	return out, err
}

// currency is what the shop writes behind amounts, or nothing.
func (s *Room) currency(ctx context.Context) (string, error) {
	head, err := s.index.Letterhead(ctx)
	return head.Currency, err
}

// Regear plans a re-gear.
func (s *Room) Regear(ctx context.Context, r api.RegearRequestObject) (api.RegearResponseObject, error) {
	q, err := s.fromShop(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	p, err := regear.Work(q)
	if err != nil {
		return nil, err
	}
	return api.Regear200JSONResponse(*p), nil
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

func (s *Room) decide(ctx context.Context, b *api.NewDecision, d *store.Decision) error {
	if b.Regear == nil {
		return problem.Field("/regear", "the question is needed, as for /calc/regear")
	}
	raw, currency := *b.Regear, api.Value(b.Currency)
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

// RegearSheet prints a plan that isn't recorded.
func (s *Room) RegearSheet(ctx context.Context, r api.RegearSheetRequestObject) (api.RegearSheetResponseObject, error) {
	q, err := s.fromShop(ctx, r.Body.Regear)
	if err != nil {
		return nil, fault.Under("regear", err)
	}
	p, err := regear.Work(q)
	if err != nil {
		return nil, fault.Under("regear", err)
	}
	head := paper.Heading{Title: api.Value(r.Body.Title), Currency: cmp.Or(api.Value(r.Body.Currency), p.Currency), Speeds: q.SpeedUnit}
	if signin.Person(ctx) != nil { // the shop's address is not a stranger's to print
		if head.Shop, err = s.index.Letterhead(ctx); err != nil {
			return nil, err
		}
	}
	b, err := paper.Regear(p, head)
	return api.RegearSheet200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

// recordedSheet prints a plan that is on record. One that came in a document, or
// from an older program, may lack any figure; what can't be printed is told.
func recordedSheet(p *regear.Plan, h paper.Heading) (b []byte, err error) {
	defer func() {
		if recover() != nil {
			b, err = nil, record.ErrNoFigures
		}
	}()
	return paper.Regear(p, h)
}

func printSheet(d store.Decision, u store.Unit, shop catalog.Letterhead) ([]byte, error) {
	var rec regearRecord
	if err := json.Unmarshal(d.Answer, &rec); err != nil || rec.Plan == nil || rec.Plan.Change == nil {
		return nil, record.ErrNoFigures
	}
	if rec.Variant != nil {
		rec.Plan.Variants = []regear.Variant{*rec.Variant}
	}
	takenIn := ""
	if x := d.TakenIn; x != nil {
		takenIn = x.By + " on " + say.Day(x.At)
	}
	return recordedSheet(rec.Plan, paper.Heading{
		Title: u.Name, Currency: rec.Currency, Speeds: rec.Speeds, By: d.By, At: d.At, Note: d.Note, TakenIn: takenIn, Shop: shop,
	})
}
