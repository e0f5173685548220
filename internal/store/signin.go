package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// Bounds of wrong sign-ins.
const (
	freeTries   = 8                // per account and place before it slows down
	slowest     = 15 * time.Minute // between two tries, at most
	forgetAfter = time.Hour        // without a try
	// Over all accounts from one place, and over all places at one account,
	// within slowest. Devices that signed in before are not held to it.
	strangerTries = 100
)

// Place is where a sign-in comes from: the address, and whether this account
// has signed in on this device before.
type Place struct {
	Address string
	Device  string // hash of what the device keeps; empty where it isn't known
}

func (p Place) key() string {
	if p.Device != "" {
		return "device " + p.Device
	}
	return p.Address
}

// pause is how long after so many wrong tries the next is taken.
func pause(tries int) time.Duration {
	if tries < freeTries {
		return 0
	}
	d := time.Second << min(tries-freeTries+1, 20)
	return min(d, slowest)
}

// SignInTry counts a try before its password is looked at, so that many at once
// are counted one by one. A wait above zero says that it was not let through and
// how long to wait.
func (s *Store) SignInTry(ctx context.Context, signIn string, at Place) (wait time.Duration, err error) {
	// The row is there before it is locked: many that make it in transactions
	// wait for each other's gaps.
	if _, err := s.exec(ctx, "INSERT IGNORE INTO sign_in_tries (sign_in, place, tries, last_at) VALUES (?, ?, 0, ?)",
		signIn, at.key(), s.now()); err != nil {
		return 0, err
	}
	err = s.tx(ctx, func(t *sql.Tx) error {
		wait = 0
		var tries int
		var last time.Time
		if err := t.QueryRowContext(ctx, "SELECT tries, last_at FROM sign_in_tries WHERE sign_in = ? AND place = ? FOR UPDATE", signIn, at.key()).Scan(&tries, &last); err != nil {
			return err
		}
		now := s.now() // once it is this one's turn
		if now.Sub(last) > forgetAfter {
			tries = 0
		}
		if until := last.Add(pause(tries)); now.Before(until) {
			wait = until.Sub(now)
			return nil
		}
		if at.Device == "" {
			since := now.Add(-slowest)
			var account, place int
			if err := t.QueryRowContext(ctx, `SELECT
				(SELECT COALESCE(SUM(tries), 0) FROM sign_in_tries WHERE sign_in = ? AND place NOT LIKE 'device %' AND last_at > ?),
				(SELECT COALESCE(SUM(tries), 0) FROM sign_in_tries WHERE place = ? AND last_at > ?)`, signIn, since, at.key(), since).Scan(&account, &place); err != nil {
				return err
			}
			if account >= strangerTries || place >= strangerTries {
				wait = slowest
				return nil
			}
		}
		_, err := t.ExecContext(ctx, "UPDATE sign_in_tries SET tries = ?, last_at = ? WHERE sign_in = ? AND place = ?", tries+1, now, signIn, at.key())
		return err
	})
	if err != nil {
		return 0, err
	}
	return wait, s.forgetTries(ctx)
}

// forgetTries takes out a few that are a day old, each by its key: a range of
// them would be locked against those who try now.
func (s *Store) forgetTries(ctx context.Context) error {
	type key struct{ signIn, place string }
	day := s.now().Add(-24 * time.Hour)
	old, err := list(ctx, s.DB, func(row scanner, k *key) error { return row.Scan(&k.signIn, &k.place) },
		"SELECT sign_in, place FROM sign_in_tries WHERE last_at < ? LIMIT 20", day)
	if err != nil {
		return err
	}
	for _, k := range old {
		if _, err := s.exec(ctx, "DELETE FROM sign_in_tries WHERE sign_in = ? AND place = ? AND last_at < ?", k.signIn,
			k.place, day); err != nil {
			return err
		}
	}
	return nil
}

// SignInWorked forgets the tries of this account at this place, and remembers
// the device by the hash of what it keeps from now on.
func (s *Store) SignInWorked(ctx context.Context, p Person, signIn string, at Place, device string) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if _, err := t.ExecContext(ctx, "DELETE FROM sign_in_tries WHERE sign_in = ? AND place = ?", signIn, at.key()); err != nil {
			return err
		}
		if _, err := t.ExecContext(ctx, "INSERT INTO known_devices (token, person, seen_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE seen_at = VALUES(seen_at)", device, p.ID, s.now()); err != nil {
			return err
		}
		_, err := t.ExecContext(ctx, "DELETE FROM known_devices WHERE person = ? AND seen_at < ? LIMIT 100", p.ID, s.now().AddDate(-1, 0, 0))
		return err
	})
}

// KnowsDevice reports whether the account signed in on this device before.
func (s *Store) KnowsDevice(ctx context.Context, signIn, device string) (bool, error) {
	var n int
	err := s.DB.QueryRowContext(ctx, "SELECT 1 FROM known_devices d JOIN people p ON p.id = d.person WHERE d.token = ? AND p.sign_in = ?", device, signIn).Scan(&n)
	if errors.Is(err, sql.ErrNoRows) {
		return false, nil
	}
	return err == nil, err
}
