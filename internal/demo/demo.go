// Package demo fills an empty database with an invented shop: the cooperative
// workshop of the island of Skarrow, its people, its gear sets, and units whose
// readings tell what can go wrong.
package demo

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/go-sql-driver/mysql"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/identify"
	"zorvel/internal/server"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// Accounts are offered on the demo's sign-in page.
func Accounts() []signin.DemoAccount {
	return []signin.DemoAccount{
		{SignIn: "oda", Name: "Oda Brenk", Role: store.Owner, Password: "chalk-and-flange"},
		{SignIn: "ivar", Name: "Ivar Tolm", Role: store.Technician, Password: "start-tooth-zero"},
		{SignIn: "runa", Name: "Runa Selk", Role: store.Viewer, Password: "office-reads-only"},
	}
}

// IsWhole is whether a database holds the whole demo: the owner is added last.
func IsWhole(ctx context.Context, dsn string) (bool, error) {
	st, err := store.Open(ctx, dsn)
	if err != nil {
		return false, err
	}
	defer func() { _ = st.Close() }()
	has, err := st.HasOwner(ctx)
	var missing *mysql.MySQLError
	if errors.As(err, &missing) && missing.Number == 1146 { // no such table: new
		return false, nil
	}
	return has, err
}

// Load fills the database unless it holds an owner already.
func Load(ctx context.Context, st *store.Store, srv *server.Server) error {
	has, err := st.HasOwner(ctx)
	if err != nil || has {
		return err
	}
	// The passwords are public, so a light hash does.
	light := &argon2id.Params{Memory: 8 * 1024, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32}
	if err := loadCatalog(ctx, st, "Oda Brenk"); err != nil {
		return err
	}
	if err := st.AddShopParts(ctx, shopParts()); err != nil {
		return fmt.Errorf("demo parts: %w", err)
	}
	for _, d := range units(time.Now().UTC()) {
		if _, err := srv.Take(ctx, d, "Oda Brenk", ""); err != nil {
			return fmt.Errorf("demo unit %s: %w", d.Name, err)
		}
	}
	if err := openCards(ctx, st); err != nil {
		return fmt.Errorf("demo cards: %w", err)
	}
	if err := searches(ctx, st, time.Now().UTC()); err != nil {
		return fmt.Errorf("demo searches: %w", err)
	}
	if err := jobs(ctx, st, time.Now().UTC()); err != nil {
		return fmt.Errorf("demo jobs: %w", err)
	}
	if err := photos(ctx, st, time.Now().UTC()); err != nil {
		return fmt.Errorf("demo photos: %w", err)
	}
	if err := recordings(ctx, st, time.Now().UTC()); err != nil {
		return fmt.Errorf("demo recordings: %w", err)
	}
	// Accounts last, and of them the owner: it marks the demo as complete.
	for _, a := range slices.Backward(Accounts()) {
		hash, err := argon2id.CreateHash(a.Password, light)
		if err != nil {
			return err
		}
		p, err := st.AddPerson(ctx, store.Person{SignIn: a.SignIn, Name: a.Name, Role: a.Role, PasswordHash: hash})
		if err != nil {
			return fmt.Errorf("demo account %s: %w", a.SignIn, err)
		}
		if a.Name != ivar {
			continue
		}
		if err := practiced(ctx, st, p.ID, time.Now().UTC()); err != nil {
			return fmt.Errorf("demo practice: %w", err)
		}
	}
	return nil
}

// line builds unit documents.
type line struct {
	doc      api.UnitDocument
	measured []api.DocumentMeasured
	when     time.Time
}

func unit(now time.Time, daysAgo int, name, kind, notes string) *line {
	when := now.AddDate(0, 0, -daysAgo).Truncate(24 * time.Hour).Add(8*time.Hour + 10*time.Minute)
	return &line{when: when, doc: api.UnitDocument{Format: api.ZorvelUnit2, Name: name, Kind: api.UnitKind(kind), Notes: &notes}}
}

// at is the ratio of a part that the readings after it were taken of.
func (l *line) at(part, ratio string) *line {
	l.measured = append(l.measured, api.DocumentMeasured{Part: part, Ratio: ratio, Readings: []api.DocumentReading{}})
	return l
}

func (l *line) last() *api.DocumentMeasured { return &l.measured[len(l.measured)-1] }

// read adds a reading, a quarter of an hour after the one before.
func (l *line) read(by string, r identify.Reading, note string) *line {
	l.when = l.when.Add(17 * time.Minute)
	d := api.DocumentReading{Reading: r, By: by, At: l.when}
	if note != "" {
		d.Note = &note
	}
	if l.doc.Fittings != nil {
		n := len(*l.doc.Fittings)
		d.Fitting = &n
	}
	l.last().Readings = append(l.last().Readings, d)
	return l
}

// blind marks the last reading as taken with the others hidden.
func (l *line) blind() *line {
	yes := true
	l.last().Readings[len(l.last().Readings)-1].Blind = &yes
	return l
}

// struck strikes the last reading out.
func (l *line) struck(by, reason string) *line {
	l.when = l.when.Add(9 * time.Minute)
	l.last().Readings[len(l.last().Readings)-1].Struck = &api.KeptStrike{By: by, At: l.when, Reason: reason}
	return l
}

// swapped says that other gears went into a housing; readings from then on are
// of those. former is the part as it came out.
func (l *line) swapped(by string, former driveline.Part, note string) *line {
	l.when = l.when.Add(3 * time.Hour)
	list := []api.DocumentFitting{}
	if l.doc.Fittings != nil {
		list = *l.doc.Fittings
	}
	list = append(list, api.DocumentFitting{Part: former.ID, What: api.GearsSwapped, Note: &note, By: by, At: l.when, Former: former})
	l.doc.Fittings = &list
	return l
}

func text(method identify.Method, t string) identify.Reading {
	return identify.Reading{Method: method, Text: t}
}

func teeth(counts map[string]int) identify.Reading {
	return identify.Reading{Method: identify.Teeth, Teeth: identify.CountsOf(counts)}
}

func eye(whole int, fraction float64) identify.Shaft {
	return identify.Shaft{Whole: whole, Remainder: identify.Remainder{By: identify.ByEye, Fraction: fraction}}
}

func arc(whole int, mm, rim float64) identify.Shaft {
	return identify.Shaft{Whole: whole, Remainder: identify.Remainder{By: identify.ByArc, ArcMM: mm, RimMM: rim, RimIs: identify.Circumference}}
}

func turns(left, right float64, rightSeen bool, shaft identify.Shaft) identify.Reading {
	return identify.Reading{Method: identify.Turns, Turns: &identify.TurnsReading{
		Left: identify.Wheel{Turns: left, Seen: true}, Right: identify.Wheel{Turns: right, Seen: rightSeen}, Shaft: shaft,
	}}
}

func bench(output float64, shaft identify.Shaft) identify.Reading {
	return identify.Reading{Method: identify.Bench, Bench: &identify.BenchReading{OutputTurns: output, Outputs: identify.SingleOutput, Shaft: shaft}}
}
