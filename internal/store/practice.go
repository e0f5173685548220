package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// MostPractice is how many results of a person are saved; the oldest go. MostTasks is how
// many tasks a shop may have.
const (
	MostPractice = 2000
	MostTasks    = 200
)

// Practiced lists a person's results, oldest first.
func (s *Store) Practiced(ctx context.Context, person int64) ([]json.RawMessage, error) {
	return list(ctx, s.DB, scanJSON, "SELECT result FROM practice_results WHERE person_id = ? ORDER BY id LIMIT ?",
		person, MostPractice)
}

func scanJSON(row scanner, v *json.RawMessage) error { return row.Scan(v) }

// AddPracticed saves one result under its key, once; another under that key is a *KeyError.
// Beyond MostPractice the oldest go.
func (s *Store) AddPracticed(ctx context.Context, person int64, key, content string, result json.RawMessage) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockPerson(ctx, t, person); err != nil {
			return err
		}
		_, there, err := under(ctx, t, key, content,
			"SELECT id, content FROM practice_results WHERE person_id = ? AND client_key = ?", person, key)
		if err != nil || there {
			return err
		}
		if _, err := insert(ctx, t, "INSERT INTO practice_results (person_id, client_key, content, result, at) "+
			"VALUES (?, ?, ?, ?, ?)",
			person, key, content, string(result), s.now()); err != nil {
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM practice_results WHERE person_id = ?",
			person).Scan(&n); err != nil {
			return err
		}
		if n > MostPractice {
			_, err = t.ExecContext(ctx, "DELETE FROM practice_results WHERE person_id = ? ORDER BY id LIMIT ?",
				person, n-MostPractice)
		}
		return err
	})
}

func lockPerson(ctx context.Context, t *sql.Tx, id int64) error {
	var n int64
	return oneRow(t.QueryRowContext(ctx, "SELECT id FROM people WHERE id = ? FOR UPDATE", id).Scan(&n))
}

// SharesPractice reports whether a person lets the owner see how far he is.
func (s *Store) SharesPractice(ctx context.Context, person int64) (bool, error) {
	var n int
	err := s.DB.QueryRowContext(ctx, "SELECT COUNT(*) FROM practice_sharing WHERE person_id = ?", person).Scan(&n)
	return n > 0, err
}

// SharePractice says whether a person lets the owner see how far he is.
func (s *Store) SharePractice(ctx context.Context, person int64, shares bool) error {
	query := "DELETE FROM practice_sharing WHERE person_id = ?"
	if shares {
		query = "INSERT IGNORE INTO practice_sharing (person_id) VALUES (?)"
	}
	_, err := s.DB.ExecContext(ctx, query, person)
	return err
}

// Learner is somebody who practiced, with his results; Name is empty unless he shares.
type Learner struct {
	Name    string
	Results []json.RawMessage
}

// Learners are all who practiced, whose account is in use.
func (s *Store) Learners(ctx context.Context) ([]Learner, error) {
	type row struct {
		person int64
		name   string
		result json.RawMessage
	}
	rows, err := list(ctx, s.DB, func(r scanner, v *row) error { return r.Scan(&v.person, &v.name, &v.result) },
		`SELECT p.id, IF(s.person_id IS NULL, '', p.name), r.result FROM practice_results r
		JOIN people p ON p.id = r.person_id LEFT JOIN practice_sharing s ON s.person_id = p.id WHERE p.active ORDER BY p.id, r.id`)
	if err != nil {
		return nil, err
	}
	var out []Learner
	var last int64
	for _, x := range rows {
		if x.person != last || len(out) == 0 {
			out = append(out, Learner{Name: x.name})
			last = x.person
		}
		out[len(out)-1].Results = append(out[len(out)-1].Results, x.result)
	}
	return out, nil
}

// PracticeTask is a task that a teacher made.
type PracticeTask struct {
	ID   int64
	Task json.RawMessage
	By   string
	At   time.Time
}

const taskColumns = "SELECT id, task, by_name, at FROM practice_tasks "

func scanTask(row scanner, p *PracticeTask) error { return row.Scan(&p.ID, &p.Task, &p.By, &p.At) }

// PracticeTasks lists the tasks, the newest first.
func (s *Store) PracticeTasks(ctx context.Context) ([]PracticeTask, error) {
	return list(ctx, s.DB, scanTask, taskColumns+"ORDER BY id DESC LIMIT ?", MostTasks)
}

// PracticeTask is one of them.
func (s *Store) PracticeTask(ctx context.Context, id int64) (PracticeTask, error) {
	var p PracticeTask
	return p, oneRow(scanTask(s.DB.QueryRowContext(ctx, taskColumns+"WHERE id = ?", id), &p))
}

// AddPracticeTask saves a task under its key, once. It returns ErrInUse where there are as
// many as there may be.
func (s *Store) AddPracticeTask(ctx context.Context, key, content string, task json.RawMessage, by string) (int64,
	error) {
	var id int64
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := guard(ctx, t, guardTasks); err != nil {
			return err
		}
		var there bool
		var err error
		if id, there, err = under(ctx, t, key, content, "SELECT id, content FROM practice_tasks WHERE client_key = ?",
			key); err != nil || there {
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM practice_tasks").Scan(&n); err != nil {
			return err
		}
		if n >= MostTasks {
			return ErrInUse
		}
		id, err = insert(ctx, t, "INSERT INTO practice_tasks (client_key, content, task, by_name, at) VALUES (?, ?, "+
			"?, ?, ?)",
			key, content, string(task), by, s.now())
		return err
	})
	return id, err
}

// RemovePracticeTask deletes a task; ErrNotFound where there is none.
func (s *Store) RemovePracticeTask(ctx context.Context, id int64) error {
	res, err := s.DB.ExecContext(ctx, "DELETE FROM practice_tasks WHERE id = ?", id)
	if err != nil {
		return err
	}
	n, err := res.RowsAffected()
	if err == nil && n == 0 {
		return ErrNotFound
	}
	return err
}
