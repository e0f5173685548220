package server

import (
	"context"
	"encoding/json"
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
		case p.ID == part && p.Kind != "shaft":
			return p.Family // its own gears and no others
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
