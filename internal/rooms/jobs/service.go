package jobs

import (
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/service"
	"zorvel/core/typed"
	"zorvel/internal/index"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// Bounds of the shop's list of what is due.
const (
	mostDueUnits = 2000
	mostDue      = 1000
)

// rules are the shop's rules over the typical ones.
func (s *Room) rules(ctx context.Context) ([]service.Rule, error) {
	own, err := index.Entries(ctx, s.index, catalog.Service, index.Always(catalog.Row.ServiceRule))
	return service.Merge(own), err
}

// serviceQuestion puts a unit's past into a question.
func serviceQuestion(doc *driveline.Document, rules []service.Rule, work []store.Work, cards []store.ClosedCard, today time.Time) service.Question {
	q := service.Question{Lies: string(doc.Lies), Rules: rules, Done: []service.Done{}, Meters: []service.Meter{}, Today: today}
	for i := range doc.Parts {
		p := &doc.Parts[i]
		q.Parts = append(q.Parts, service.Part{ID: p.ID, Kind: p.Kind, Name: p.Called()})
	}
	for _, w := range work {
		if w.Kind == store.WorkMeter {
			q.Meters = append(q.Meters, service.Meter{At: w.DoneAt, Hours: w.Hours, KM: w.KM, Sessions: w.Sessions, Change: w.Meter})
			continue
		}
		q.Done = append(q.Done, service.Done{What: w.What, Part: w.Part, At: w.DoneAt})
	}
	for _, c := range cards {
		for _, what := range service.ByCard[c.Card] {
			q.Done = append(q.Done, service.Done{What: what, Part: c.Part, At: c.At})
		}
	}
	return q
}

// DueOf is what is due on a unit; trouble says why it can't be worked out.
func (s *Room) DueOf(ctx context.Context, unit int64) (a *service.Answer, work []store.Work, doc *driveline.Document,
	trouble string, err error) {
	var damaged *store.DamagedError
	if _, doc, err = s.units.DrivelineOf(ctx, unit); errors.As(err, &damaged) {
		doc, trouble = &driveline.Document{}, damaged.Error()
	} else if err != nil {
		return nil, nil, nil, "", err
	}
	rules, err := s.rules(ctx)
	if err != nil {
		return nil, nil, nil, "", err
	}
	if work, err = s.store.Served(ctx, unit); err != nil {
		return nil, nil, nil, "", err
	}
	cards, err := s.store.ClosedCards(ctx, unit)
	if err != nil {
		return nil, nil, nil, "", err
	}
	if trouble != "" {
		return &service.Answer{Due: []service.Due{}}, work, doc, trouble, nil
	}
	a, why := service.Work(serviceQuestion(doc, rules, work, cards, time.Now().UTC()))
	if why != nil {
		return &service.Answer{Due: []service.Due{}}, work, doc, why.Error(), nil
	}
	return a, work, doc, "", nil
}

func (s *Room) servicePage(ctx context.Context, unit int64) (api.ServicePage, error) {
	a, work, doc, trouble, err := s.DueOf(ctx, unit)
	if err != nil {
		return api.ServicePage{}, err
	}
	out := api.ServicePage{Answer: *a, Work: []api.Work{}, Whats: []string{}, Trouble: trouble}
	for _, w := range slices.Backward(work) {
		if len(out.Work) < 100 {
			out.Work = append(out.Work, workOut(w))
		}
	}
	rules, err := s.rules(ctx)
	for _, r := range rules {
		has := r.Kind == "unit" || slices.ContainsFunc(doc.Parts, func(p driveline.Part) bool { return p.Kind == r.Kind })
		if r.Only != "" && r.Only != string(doc.Lies) {
			has = false
		}
		for _, what := range []string{r.What, r.After} {
			if has && what != "" && !slices.Contains(out.Whats, what) {
				out.Whats = append(out.Whats, what)
			}
		}
	}
	return out, err
}

// GetService tells what is due on a unit.
func (s *Room) GetService(ctx context.Context, r api.GetServiceRequestObject) (api.GetServiceResponseObject, error) {
	out, err := s.servicePage(ctx, r.Id)
	return api.GetService200JSONResponse(out), err
}

// EnterService enters a meter or a service without a job.
func (s *Room) EnterService(ctx context.Context, r api.EnterServiceRequestObject) (api.EnterServiceResponseObject, error) {
	if r.Body.Kind != api.NewWorkKind(store.WorkMeter) && r.Body.Kind != api.NewWorkKind(store.WorkService) {
		return nil, problem.Field("/kind", "meter or service; the rest belongs to a job")
	}
	if err := s.enter(ctx, r.Id, 0, r.Body); err != nil {
		return nil, err
	}
	out, err := s.servicePage(ctx, r.Id)
	return api.EnterService200JSONResponse(out), err
}

// shopDue works out what is due in the shop, the most urgent first; units of
// which nothing is on record are left out.
func (s *Room) shopDue(ctx context.Context) ([]api.ShopDue, error) {
	rules, err := s.rules(ctx)
	if err != nil {
		return nil, err
	}
	work, err := s.store.Served(ctx, 0)
	if err != nil {
		return nil, err
	}
	cards, err := s.store.ClosedCards(ctx, 0)
	if err != nil {
		return nil, err
	}
	byWork, byCard := map[int64][]store.Work{}, map[int64][]store.ClosedCard{}
	var ids []int64
	for _, w := range work {
		if byWork[w.UnitID] == nil {
			ids = append(ids, w.UnitID)
		}
		byWork[w.UnitID] = append(byWork[w.UnitID], w)
	}
	for _, c := range cards {
		if byWork[c.UnitID] == nil && byCard[c.UnitID] == nil {
			ids = append(ids, c.UnitID)
		}
		byCard[c.UnitID] = append(byCard[c.UnitID], c)
	}
	lines, err := s.store.Lines(ctx, ids[:min(len(ids), mostDueUnits)])
	if err != nil {
		return nil, err
	}
	out := []api.ShopDue{}
	today := time.Now().UTC()
	for _, l := range lines {
		doc, err := driveline.Parse(l.Document)
		if err != nil {
			continue // an older document that today's program can't read has its own page
		}
		a, err := service.Work(serviceQuestion(doc, rules, byWork[l.UnitID], byCard[l.UnitID], today))
		if err != nil {
			out = append(out, api.ShopDue{UnitId: l.UnitID, Unit: l.Unit, Due: service.Due{What: "its meters", State: service.Unknown, Words: err.Error()}})
			continue
		}
		for _, d := range a.Due {
			if d.State != service.Unknown {
				out = append(out, api.ShopDue{UnitId: l.UnitID, Unit: l.Unit, Due: d})
			}
		}
	}
	rank := map[string]int{service.Overdue: 0, service.Soon: 1, service.Unknown: 2, service.Later: 3}
	slices.SortStableFunc(out, func(a, b api.ShopDue) int {
		if c := rank[a.Due.State] - rank[b.Due.State]; c != 0 {
			return c
		}
		switch x, y := a.Due.On, b.Due.On; {
		case x == nil && y == nil:
			return 0
		case x == nil:
			return 1
		case y == nil:
			return -1
		default:
			return x.Compare(*y)
		}
	})
	return out[:min(len(out), mostDue)], nil
}

// ListService lists what is due in the shop.
func (s *Room) ListService(ctx context.Context, _ api.ListServiceRequestObject) (api.ListServiceResponseObject, error) {
	out, err := s.shopDue(ctx)
	return api.ListService200JSONResponse(out), err
}

// ServiceCalendar writes what is due on a day as a calendar.
func (s *Room) ServiceCalendar(ctx context.Context, _ api.ServiceCalendarRequestObject) (api.ServiceCalendarResponseObject, error) {
	list, err := s.shopDue(ctx)
	if err != nil {
		return nil, err
	}
	c := ics.NewCalendar()
	c.SetProductId("-//Zorvel//Service due//EN")
	c.SetMethod(ics.MethodPublish)
	now := time.Now().UTC()
	for _, d := range list {
		if d.Due.On == nil {
			continue
		}
		e := c.AddEvent(fmt.Sprintf("%d-%s-%s@zorvel", d.UnitId, strings.ReplaceAll(d.Due.What, " ", "-"), d.Due.Part))
		e.SetDtStampTime(now)
		e.SetAllDayStartAt(*d.Due.On)
		e.SetSummary(strings.Trim(d.Unit+": "+d.Due.What+", "+d.Due.Name, ", "))
		e.SetDescription(d.Due.Words)
	}
	text := c.Serialize(ics.WithNewLineWindows)
	return api.ServiceCalendar200TextcalendarResponse{Body: strings.NewReader(text), ContentLength: int64(len(text))}, nil
}

// ServiceTable writes what is due as a table.
func (s *Room) ServiceTable(ctx context.Context, _ api.ServiceTableRequestObject) (api.ServiceTableResponseObject, error) {
	list, err := s.shopDue(ctx)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	_ = w.Write([]string{"unit", "unit_id", "part", "what", "state", "by", "on", "left", "words", "source"})
	for _, d := range list {
		on, left := "", ""
		if d.Due.On != nil {
			on = d.Due.On.Format(time.DateOnly)
		}
		if d.Due.Left != nil {
			left = strconv.FormatFloat(*d.Due.Left, 'f', -1, 64)
		}
		_ = w.Write([]string{typed.Cell(d.Unit), strconv.FormatInt(d.UnitId, 10), typed.Cell(d.Due.Name), typed.Cell(d.Due.What), d.Due.State, d.Due.By, on, left, typed.Cell(d.Due.Words), typed.Cell(d.Due.Source)})
	}
	w.Flush()
	return api.ServiceTable200TextcsvResponse{Body: bytes.NewReader(b.Bytes()), ContentLength: int64(b.Len())}, w.Error()
}

// judgeMeter refuses a meter that reads less than before and says not why.
func judgeMeter(before []store.Work, w store.Work) error {
	work := append(slices.Clone(before), w)
	q := serviceQuestion(&driveline.Document{}, nil, work, nil, time.Now().UTC())
	if _, err := service.Work(q); err != nil {
		list, ok := err.(fault.Errors)
		if !ok || len(list) == 0 {
			return err
		}
		field := list[0].Field[strings.LastIndex(list[0].Field, "/")+1:]
		if field == "change" {
			field = "meter"
		}
		return problem.Field("/"+field, list[0].Message)
	}
	return nil
}
