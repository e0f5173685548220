package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"strings"
	"time"

	"zorvel/core/workcard"
)

// Card is a version of a card of the shop's own.
type Card struct {
	Version int
	Card    workcard.Card
	By      string
	At      time.Time
}

// CardRun is a card that is being done on a unit.
type CardRun struct {
	ID       int64
	UnitID   int64
	Run      workcard.Run
	By       string
	At       time.Time
	ClosedBy string
	ClosedAt *time.Time
	Damaged  error // its document can't be read: it is known by its title alone
}

// Errors of cards.
var (
	ErrClosed = errors.New("closed already")
)

const cardColumns = "SELECT version, document, by_name, at FROM cards "

func scanCard(row scanner, c *Card) error {
	var doc json.RawMessage
	if err := row.Scan(&c.Version, &doc, &c.By, &c.At); err != nil {
		return err
	}
	return Read("a work card", doc, &c.Card)
}

// Cards lists the newest version of every card of the shop's own, at most 200.
func (s *Store) Cards(ctx context.Context) ([]Card, error) {
	return list(ctx, s.DB, scanCard, cardColumns+"c WHERE version = (SELECT MAX(version) FROM cards n WHERE n.card = c.card) ORDER BY title LIMIT 200")
}

// Card returns a version of a card; the newest where it is 0.
func (s *Store) Card(ctx context.Context, card string, version int) (Card, error) {
	var c Card
	if strings.ContainsFunc(card, func(r rune) bool { return r > 126 }) {
		return c, ErrNotFound // the names of cards are plain, and the database compares them with nothing else
	}
	q, args := cardColumns+"WHERE card = ? ORDER BY version DESC LIMIT 1", []any{card}
	if version > 0 {
		q, args = cardColumns+"WHERE card = ? AND version = ?", []any{card, version}
	}
	return c, oneRow(scanCard(s.DB.QueryRowContext(ctx, q, args...), &c))
}

// KeepCard keeps the next version of a card. It returns ErrChanged where base
// is not the newest, and ErrInUse where the shop has as many cards as it may.
func (s *Store) KeepCard(ctx context.Context, c workcard.Card, base int, by string) (Card, error) {
	doc, err := json.Marshal(c)
	if err != nil {
		return Card{}, err
	}
	out := Card{Version: base + 1, Card: c, By: by, At: s.now()}
	err = s.tx(ctx, func(t *sql.Tx) error {
		if err := guard(ctx, t, guardCards); err != nil {
			return err
		}
		var newest, names int
		if err := t.QueryRowContext(ctx, "SELECT COALESCE(MAX(version), 0) FROM cards WHERE card = ?", c.ID).Scan(&newest); err != nil {
			return err
		}
		if newest != base {
			return ErrChanged
		}
		if err := t.QueryRowContext(ctx, "SELECT COUNT(DISTINCT card) FROM cards").Scan(&names); err != nil {
			return err
		}
		if base == 0 && names >= 200 {
			return ErrInUse
		}
		_, err := insert(ctx, t, "INSERT INTO cards (card, version, title, document, by_name, at) VALUES (?, ?, ?, ?, ?, ?)", c.ID, out.Version, c.Title, string(doc), by, out.At)
		if errors.Is(err, ErrTaken) {
			return ErrChanged
		}
		return err
	})
	return out, err
}

const runColumns = "SELECT id, unit_id, part, version, card, title, document, answers, by_name, at, COALESCE(closed_by, ''), closed_at FROM card_runs "

func scanRun(row scanner, r *CardRun) error {
	var doc, answers json.RawMessage
	var id, title string
	if err := row.Scan(&r.ID, &r.UnitID, &r.Run.Part, &r.Run.Version, &id, &title, &doc, &answers, &r.By, &r.At, &r.ClosedBy, &r.ClosedAt); err != nil {
		return err
	}
	err := errors.Join(json.Unmarshal(doc, &r.Run.Card), json.Unmarshal(answers, &r.Run.Answers))
	if r.Damaged = Damaged(numbered("work card", r.ID), err); r.Damaged != nil {
		r.Run.Card, r.Run.Answers = workcard.Card{ID: id, Title: title}, nil
	}
	return nil
}

// CardRuns lists the cards of a unit, newest first, at most 2000, without their
// entries.
func (s *Store) CardRuns(ctx context.Context, unit int64) ([]CardRun, error) {
	return list(ctx, s.DB, scanRun, runColumns+"WHERE unit_id = ? ORDER BY at DESC, id DESC LIMIT 2000", unit)
}

// CardRun returns a run with its entries.
func (s *Store) CardRun(ctx context.Context, id int64) (CardRun, error) {
	return s.cardRun(ctx, s.DB, id)
}

func (s *Store) cardRun(ctx context.Context, q querier, id int64) (CardRun, error) {
	var r CardRun
	if err := scanRun(q.QueryRowContext(ctx, runColumns+"WHERE id = ?", id), &r); err != nil {
		return r, oneRow(err)
	}
	if r.Damaged != nil {
		return r, r.Damaged
	}
	var err error
	r.Run.Entries, err = list(ctx, q, func(row scanner, e *workcard.Entry) error {
		return row.Scan(&e.Kind, &e.Step, &e.Figure, &e.Note, &e.By, &e.At)
	}, "SELECT kind, step, figure, note, by_name, at FROM card_entries WHERE run_id = ? ORDER BY id", id)
	return r, err
}

// BeginCardRun begins a card on a unit.
func (s *Store) BeginCardRun(ctx context.Context, r CardRun) (int64, error) {
	doc, err := json.Marshal(r.Run.Card)
	if err != nil {
		return 0, err
	}
	answers, err := json.Marshal(r.Run.Answers)
	if err != nil {
		return 0, err
	}
	var id int64
	err = s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, r.UnitID); err != nil {
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM card_runs WHERE unit_id = ? AND closed_at IS NULL", r.UnitID).Scan(&n); err != nil {
			return err
		}
		if n >= 20 {
			return ErrInUse
		}
		at := s.now()
		if id, err = insert(ctx, t, "INSERT INTO card_runs (unit_id, part, card, version, title, document, answers, by_name, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
			r.UnitID, r.Run.Part, r.Run.Card.ID, r.Run.Version, r.Run.Card.Title, string(doc), string(answers), r.By, at); err != nil {
			return err
		}
		return s.log(ctx, t, r.UnitID, Event{What: "card", By: r.By, At: at, Text: r.Run.Card.Title + ": begun"})
	})
	return id, err
}

// EnterCardRun puts an entry in, if judge takes it as the run stands then. One
// that came already under its key is kept once; another under that key is a
// *KeyError.
func (s *Store) EnterCardRun(ctx context.Context, id int64, key, content string, e workcard.Entry, judge func(CardRun) error) error {
	return s.onRun(ctx, id, func(t *sql.Tx, r CardRun) error {
		if _, there, err := under(ctx, t, key, content,
			"SELECT id, content FROM card_entries WHERE run_id = ? AND client_key = ?", id, key); err != nil || there {
			return err
		}
		if r.ClosedAt != nil {
			return ErrClosed
		}
		if len(r.Run.Entries) >= workcard.MostEntries {
			return ErrInUse
		}
		if err := judge(r); err != nil {
			return err
		}
		_, err := insert(ctx, t, "INSERT INTO card_entries (run_id, client_key, content, kind, step, figure, note, by_name, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", id, key, content, e.Kind, e.Step, e.Figure, e.Note, e.By, s.now())
		return err
	})
}

// CloseCardRun closes a run, if record makes a decision of it with what was open on
// its unit at a revision; ErrMoved where something was written to the unit since.
func (s *Store) CloseCardRun(ctx context.Context, id int64, rev Revision, by string, record func(CardRun) (Decision, error)) error {
	return s.onRun(ctx, id, func(t *sql.Tx, r CardRun) error {
		if r.ClosedAt != nil {
			return ErrClosed
		}
		if err := rev.holds(ctx, t); err != nil {
			return err
		}
		d, err := record(r)
		if err != nil {
			return err
		}
		d.At = s.now()
		if _, err := t.ExecContext(ctx, "UPDATE card_runs SET closed_by = ?, closed_at = ? WHERE id = ?", by, d.At, id); err != nil {
			return err
		}
		_, err = s.decide(ctx, t, d)
		return err
	})
}

// onRun works on a run while its unit's row is locked. Which unit that is never
// changes, so it is read before; within the transaction the lock comes first,
// so that what is read after it is what others left.
func (s *Store) onRun(ctx context.Context, id int64, f func(*sql.Tx, CardRun) error) error {
	var unit int64
	if err := s.DB.QueryRowContext(ctx, "SELECT unit_id FROM card_runs WHERE id = ?", id).Scan(&unit); err != nil {
		return oneRow(err)
	}
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, unit); err != nil {
			return err
		}
		r, err := s.cardRun(ctx, t, id)
		if err != nil {
			return err
		}
		return f(t, r)
	})
}
