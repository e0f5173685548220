package server

import (
	"context"
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
)

// WorkTires answers for tires.
func (s *Server) WorkTires(_ context.Context, r api.WorkTiresRequestObject) (api.WorkTiresResponseObject, error) {
	out := api.WorkTires200JSONResponse{Changes: []tire.Change{}}
	var errs fault.Errors
	for i, t := range r.Body.Tires {
		a, err := tire.Work(t)
		if err != nil {
			errs = append(errs, faults(fault.Under("tires/"+itoa(i), err))...)
			continue
		}
		out.Tires = append(out.Tires, *a)
		if i > 0 && len(errs) == 0 {
			out.Changes = append(out.Changes, *tire.Compare(&out.Tires[0], a))
		}
	}
	return out, errs.Err()
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

// checkedIn refuses a driveline in a question that can't stand.
func checkedIn(d *driveline.Document) error {
	if d == nil {
		return nil
	}
	return fault.Under("driveline", d.Check())
}

// fromShop fills in the shop's lists where a question asks for them.
func (s *Server) fromShop(ctx context.Context, out regear.Request) (regear.Request, error) {
	err := checkedIn(out.Driveline)
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
		if sh.HighSets == nil {
			sh.HighSets, e = entries(ctx, s, catalog.GearSets, func(id string, r catalog.Row) (regear.LowSet, bool) { return r.HighSet(id) })
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
		if out.Currency == "" {
			out.Currency, e = s.currency(ctx)
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
		for i := range sh.HighSets {
			sh.HighSets[i].Price = exact.Figure{}
		}
	}
	return out, err
}

// currency is what the shop writes behind amounts, or nothing.
func (s *Server) currency(ctx context.Context) (string, error) {
	list, err := entries(ctx, s, catalog.Settings, func(_ string, r catalog.Row) (string, bool) { return r["value"], r["setting"] == "currency" })
	if err != nil || len(list) == 0 {
		return "", err
	}
	return list[0], nil
}

// Regear plans a re-gear.
func (s *Server) Regear(ctx context.Context, r api.RegearRequestObject) (api.RegearResponseObject, error) {
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

// gearsFromShop fills in the shop's gears where a question asks for them.
func (s *Server) gearsFromShop(ctx context.Context, q speedo.Request) (speedo.Request, error) {
	err := checkedIn(q.Driveline)
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
		if m.Drives, err = entries(ctx, s, catalog.SpeedoGears, gears("drive")); err != nil {
			return q, err
		}
	}
	if m.Driven == nil {
		if m.Driven, err = entries(ctx, s, catalog.SpeedoGears, gears("driven")); err != nil {
			return q, err
		}
	}
	if m.Housings == nil {
		if m.Housings, err = entries(ctx, s, catalog.Housings, func(_ string, r catalog.Row) (speedo.Housing, bool) { return r.Housing(), fits(r) }); err != nil {
			return q, err
		}
	}
	if m.Adapters == nil {
		m.Adapters, err = entries(ctx, s, catalog.Adapters, always(catalog.Row.Adapter))
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
func (s *Server) speedoFamilies(ctx context.Context) ([]string, error) {
	names, err := entries(ctx, s, catalog.SpeedoGears, func(_ string, r catalog.Row) (string, bool) { return r["family"], true })
	slices.Sort(names)
	return slices.Compact(names), err
}

// Speedometer answers for gears, calibration and checks.
func (s *Server) Speedometer(ctx context.Context, r api.SpeedometerRequestObject) (api.SpeedometerResponseObject, error) {
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
