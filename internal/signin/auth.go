// Package signin knows who asks: sessions, accounts, passwords.
package signin

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/alexedwards/scs/mysqlstore"
	"github.com/alexedwards/scs/v2"
	"github.com/labstack/echo/v5"

	"zorvel/api"
	"zorvel/internal/problem"
	"zorvel/internal/store"
	"zorvel/internal/watch"
)

// DemoAccount is shown on the sign-in screen of a demo shop.
type DemoAccount struct{ SignIn, Name, Role, Password string }

// Room signs people in and out and keeps their accounts.
type Room struct {
	store    *store.Store
	watch    *watch.Database
	demo     []DemoAccount
	sessions *scs.SessionManager
	mysql    *mysqlstore.MySQLStore
	hashing  chan struct{}
}

// New keeps sessions in the database; secure marks their cookie so.
func New(st *store.Store, db *watch.Database, demo []DemoAccount, secure bool, log *slog.Logger) *Room {
	s := &Room{store: st, watch: db, demo: demo, sessions: scs.New(), mysql: mysqlstore.New(st.DB), hashing: make(chan struct{}, 2)}
	s.sessions.Store = sessionStore{s.mysql}
	s.sessions.Codec = newSessionCodec()
	s.sessions.Lifetime = 14 * 24 * time.Hour
	s.sessions.Cookie.Name = "zorvel_session"
	s.sessions.Cookie.HttpOnly = true
	s.sessions.Cookie.SameSite = http.SameSiteStrictMode
	if secure {
		s.sessions.Cookie.Name, s.sessions.Cookie.Secure = "__Host-zorvel_session", true
	}
	s.sessions.ErrorFunc = func(w http.ResponseWriter, _ *http.Request, err error) {
		log.Error("session store", "error", err)
		problem.Write(w, watch.ErrAway)
	}
	return s
}

// Close ends what New began.
func (s *Room) Close() { s.mysql.StopCleanup() }

// As is a context in which a person is signed in.
func As(ctx context.Context, p *store.Person) context.Context {
	return context.WithValue(ctx, personKey, p)
}

// What a session holds.
const (
	sessionPerson     = "person"
	sessionCredential = "credential"
)

type ctxKey int

const (
	personKey ctxKey = iota
	callerKey
	sessionless // the request came while the database was away
)

// caller is where a request came from.
type caller struct {
	address string
	device  string       // what the device keeps since it signed in; may be anything
	keep    func(string) // has it keep something
}

// Authenticate finds out who is signed in and remembers where the request came from.
func (s *Room) Authenticate(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		ctx := context.WithValue(r.Context(), callerKey, s.caller(c))
		if ctx.Value(sessionless) != nil {
			c.SetRequest(r.WithContext(ctx))
			return next(c)
		}
		if id := s.sessions.GetInt64(ctx, sessionPerson); id != 0 {
			p, err := s.store.Person(ctx, id)
			switch {
			case errors.Is(err, store.ErrNotFound):
			case err != nil:
				return err
			// A changed password or a switched-off account ends its sessions.
			case p.Active && s.sessions.GetString(ctx, sessionCredential) == credential(p):
				ctx = context.WithValue(ctx, personKey, &p)
			}
		}
		p := Person(ctx)
		signedIn := "0"
		if p != nil {
			signedIn = strconv.FormatInt(p.ID, 10)
		}
		c.Response().Header().Set(personHeader, signedIn)
		if p != nil && writes(r) {
			if of := r.Header.Get(personHeader); of != "" && of != signedIn {
				return errSomeoneElse
			}
		}
		c.SetRequest(r.WithContext(ctx))
		return next(c)
	}
}

// personHeader says who entered what is sent, by the number of the account: what
// one page's person entered is never taken as another's who signed in elsewhere
// on the same device.
const personHeader = "Zorvel-Person"

var errSomeoneElse = &problem.Problem{Type: "zorvel:someone-else", Status: http.StatusConflict, Title: "Someone else is signed in",
	Detail: "This was entered by another person than the one who is signed in now. It waits on this device for whoever entered it."}

// writes reports whether a request keeps something.
func writes(r *http.Request) bool {
	switch r.Method {
	case http.MethodGet, http.MethodHead, http.MethodOptions:
		return false
	}
	return !strings.HasPrefix(r.URL.Path, "/api/v1/calc/") && r.URL.Path != "/api/v1/session"
}

// caller finds the address and what the device keeps.
func (s *Room) caller(c *echo.Context) caller {
	name := strings.Replace(s.sessions.Cookie.Name, "session", "device", 1)
	out := caller{address: c.RealIP(), keep: func(value string) {
		c.SetCookie(&http.Cookie{Name: name, Value: value, Path: "/", MaxAge: 400 * 24 * 3600,
			HttpOnly: true, SameSite: http.SameSiteStrictMode, Secure: s.sessions.Cookie.Secure})
	}}
	if kept, err := c.Cookie(name); err == nil {
		out.device = kept.Value
	}
	return out
}

// credential marks which password a session was opened with, and in which era
// of the account.
func credential(p store.Person) string {
	return p.PasswordHash[max(0, len(p.PasswordHash)-12):] + "." + strconv.Itoa(p.Era)
}

// Person is who asks; nobody only where the contract lets in anyone.
func Person(ctx context.Context) *store.Person {
	p, _ := ctx.Value(personKey).(*store.Person)
	return p
}

// Need returns the signed-in person if the role is enough.
func Need(ctx context.Context, roles ...string) (*store.Person, error) {
	p := Person(ctx)
	if p == nil {
		return nil, problem.New(http.StatusUnauthorized, "Please sign in", "Counting works without an account; saving and looking up units needs one.")
	}
	for _, r := range roles {
		if p.Role == r {
			return p, nil
		}
	}
	return nil, problem.New(http.StatusForbidden, "Not for this account", "Ask the owner: a "+p.Role+" may not do this.")
}

func (s *Room) session(ctx context.Context, p *store.Person) (api.Session, error) {
	out := api.Session{DemoAccounts: []api.DemoAccount{}}
	for _, d := range s.demo {
		out.DemoAccounts = append(out.DemoAccounts, api.DemoAccount{SignIn: d.SignIn, Name: d.Name, Role: api.Role(d.Role), Password: d.Password})
	}
	if p != nil {
		v := personOut(*p)
		out.Person = &v
		return out, nil
	}
	has, err := s.store.HasOwner(ctx)
	out.NeedsOwner = !has
	return out, err
}

// GetSession says who is signed in.
func (s *Room) GetSession(ctx context.Context, _ api.GetSessionRequestObject) (api.GetSessionResponseObject, error) {
	out, err := s.session(ctx, Person(ctx))
	return api.GetSession200JSONResponse(out), err
}

// HashPassword makes the hash that an account keeps of its password (argon2id).
func HashPassword(password string) (string, error) {
	return argon2id.CreateHash(password, argon2id.DefaultParams)
}

// hash makes an argon2id hash; each takes 64 MB, so only two run at once.
func (s *Room) hash(ctx context.Context, password string) (string, error) {
	leave, err := s.enterHashing(ctx)
	if err != nil {
		return "", err
	}
	defer leave()
	return HashPassword(password)
}

func (s *Room) matches(ctx context.Context, password, hash string) (bool, error) {
	leave, err := s.enterHashing(ctx)
	if err != nil {
		return false, err
	}
	defer leave()
	ok, err := argon2id.ComparePasswordAndHash(password, hash)
	return err == nil && ok, nil
}

// enterHashing waits its turn, but not longer than whoever asks.
func (s *Room) enterHashing(ctx context.Context) (leave func(), err error) {
	select {
	case s.hashing <- struct{}{}:
		return func() { <-s.hashing }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// nobody is compared against when there is no such account, so that both
// take as long.
const nobody = "$argon2id$v=19$m=65536,t=1,p=2$c29tZXNhbHRzb21lc2FsdA$1xVVQ8UwcXJmpMXNKzvKZUsgcFuAqcZIanUgpMrHPYo"

// try counts a try of a password from where the request came; it is refused
// where there were too many.
func (s *Room) try(ctx context.Context, name string) (store.Place, error) {
	from, _ := ctx.Value(callerKey).(caller)
	at := store.Place{Address: from.address}
	if from.device != "" {
		known, err := s.store.KnowsDevice(ctx, name, deviceHash(from.device))
		if err != nil {
			return at, err
		}
		if known {
			at.Device = deviceHash(from.device)
		}
	}
	wait, err := s.store.SignInTry(ctx, name, at)
	if err == nil && wait > 0 {
		err = problem.New(http.StatusTooManyRequests, "Too many tries", "From here this name may be tried again in "+waitWords(wait)+". Other devices aren't held up; the owner can set a new password.")
	}
	return at, err
}

// worked forgets the tries and has the device keep a token that it is known by.
func (s *Room) worked(ctx context.Context, p store.Person, at store.Place) error {
	from, _ := ctx.Value(callerKey).(caller)
	keep := from.device
	if at.Device == "" {
		keep = rand.Text()
		from.keep(keep)
	}
	return s.store.SignInWorked(ctx, p, p.SignIn, at, deviceHash(keep))
}

// ChangeOwnPassword sets a new password for whoever is signed in.
func (s *Room) ChangeOwnPassword(ctx context.Context, r api.ChangeOwnPasswordRequestObject) (api.ChangeOwnPasswordResponseObject, error) {
	p := Person(ctx)
	at, err := s.try(ctx, p.SignIn)
	if err != nil {
		return nil, err
	}
	right, err := s.matches(ctx, r.Body.Current, p.PasswordHash)
	if err != nil {
		return nil, err
	}
	if !right {
		return nil, problem.Field("/current", "this isn't the password that you sign in with now")
	}
	if err := s.worked(ctx, *p, at); err != nil {
		return nil, err
	}
	hash, err := s.hash(ctx, r.Body.Password)
	if err != nil {
		return nil, err
	}
	if err := s.store.SetPassword(ctx, p.ID, p.PasswordHash, hash); errors.Is(err, store.ErrChanged) {
		return nil, problem.New(http.StatusConflict, "Changed meanwhile", "The password was changed elsewhere. Sign in again.")
	} else if err != nil {
		return nil, err
	}
	p.PasswordHash = hash
	note(ctx, s.store, p, auditOwnPassword, "")
	out, err := s.open(ctx, *p)
	return api.ChangeOwnPassword200JSONResponse(out), err
}

// SignIn opens a session.
func (s *Room) SignIn(ctx context.Context, r api.SignInRequestObject) (api.SignInResponseObject, error) {
	name := folded(r.Body.SignIn)
	at, err := s.try(ctx, name)
	if err != nil {
		return nil, err
	}
	p, err := s.store.PersonBySignIn(ctx, name)
	hash := p.PasswordHash
	if errors.Is(err, store.ErrNotFound) {
		hash = nobody
	} else if err != nil {
		return nil, err
	}
	right, err := s.matches(ctx, r.Body.Password, hash)
	if err != nil {
		return nil, err
	}
	if !right || p.ID == 0 || !p.Active {
		if p.ID != 0 { // what else was typed as a name may be a password
			note(ctx, s.store, nil, auditRefused, p.Name)
		}
		return nil, &problem.Problem{Type: "about:blank", Title: "Sign-in failed", Status: http.StatusUnauthorized, Detail: "The name and password don't belong together.",
			Errors: []problem.FieldFault{{Field: "/password", Message: "the name and password don't belong together"}}}
	}
	if err := s.worked(ctx, p, at); err != nil {
		return nil, err
	}
	note(ctx, s.store, &p, auditSignedIn, "")
	out, err := s.open(ctx, p)
	return api.SignIn200JSONResponse(out), err
}

// folded is the one form of a sign-in name, by which its tries are counted and its
// account is looked up: letter by letter, as the database compares them there.
func folded(name string) string { return strings.ToLower(strings.TrimSpace(name)) }

func waitWords(d time.Duration) string {
	switch n := int(math.Ceil(d.Seconds())); {
	case n <= 1:
		return "a second"
	case n < 90:
		return fmt.Sprintf("%d seconds", n)
	}
	return fmt.Sprintf("%d minutes", int(math.Ceil(d.Minutes())))
}

// deviceHash is what the record keeps of a device.
func deviceHash(kept string) string {
	h := sha256.Sum256([]byte(kept))
	return hex.EncodeToString(h[:])
}

// open starts the person's session with a fresh token.
func (s *Room) open(ctx context.Context, p store.Person) (api.Session, error) {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return api.Session{}, err
	}
	s.sessions.Put(ctx, sessionPerson, p.ID)
	s.sessions.Put(ctx, sessionCredential, credential(p))
	return s.session(ctx, &p)
}

// SignOut ends the session.
func (s *Room) SignOut(ctx context.Context, _ api.SignOutRequestObject) (api.SignOutResponseObject, error) {
	if Person(ctx) != nil {
		Note(ctx, s.store, auditSignedOut, "")
	}
	return api.SignOut204Response{}, s.sessions.Destroy(ctx)
}

// CreateOwner makes the first account and signs it in.
func (s *Room) CreateOwner(ctx context.Context, r api.CreateOwnerRequestObject) (api.CreateOwnerResponseObject, error) {
	taken := problem.New(http.StatusConflict, "There is an owner already", "Sign in, or ask the owner for an account.")
	if has, err := s.store.HasOwner(ctx); err != nil || has {
		if err == nil {
			err = taken
		}
		return nil, err
	}
	hash, err := s.hash(ctx, r.Body.Password)
	if err != nil {
		return nil, err
	}
	p, err := s.store.CreateOwner(ctx, store.Person{SignIn: r.Body.SignIn, Name: strings.TrimSpace(r.Body.Name), PasswordHash: hash})
	if errors.Is(err, store.ErrTaken) {
		return nil, taken
	}
	if err != nil {
		return nil, err
	}
	note(ctx, s.store, &p, auditOwner, "")
	out, err := s.open(ctx, p)
	return api.CreateOwner201JSONResponse(out), err
}

func personOut(p store.Person) api.Person {
	return api.Person{Id: p.ID, SignIn: p.SignIn, Name: p.Name, Role: api.Role(p.Role), Active: p.Active, Version: p.Version}
}

// ListPeople lists accounts for the owner.
func (s *Room) ListPeople(ctx context.Context, _ api.ListPeopleRequestObject) (api.ListPeopleResponseObject, error) {
	people, err := s.store.People(ctx)
	out := make(api.ListPeople200JSONResponse, len(people))
	for i, p := range people {
		out[i] = personOut(p)
	}
	return out, err
}

// AddPerson adds an account.
func (s *Room) AddPerson(ctx context.Context, r api.AddPersonRequestObject) (api.AddPersonResponseObject, error) {
	hash, err := s.hash(ctx, r.Body.Password)
	if err != nil {
		return nil, err
	}
	p, err := s.store.AddPerson(ctx, store.Person{SignIn: r.Body.SignIn, Name: strings.TrimSpace(r.Body.Name), Role: string(r.Body.Role), PasswordHash: hash})
	if errors.Is(err, store.ErrTaken) {
		return nil, problem.Field("/sign_in", "someone has this sign-in name already; choose another")
	}
	if err == nil {
		Note(ctx, s.store, auditAdded, p.Name+": "+p.Role)
	}
	return api.AddPerson201JSONResponse(personOut(p)), err
}

// ChangePerson changes role, name, password or whether the account works.
func (s *Room) ChangePerson(ctx context.Context, r api.ChangePersonRequestObject) (api.ChangePersonResponseObject, error) {
	b := r.Body
	c := store.PersonChange{Version: b.Version, Active: b.Active}
	if b.Name != nil {
		name := strings.TrimSpace(*b.Name)
		if name == "" {
			return nil, problem.Field("/name", "must not be empty")
		}
		c.Name = &name
	}
	if b.Role != nil {
		role := string(*b.Role)
		c.Role = &role
	}
	if b.Password != nil {
		hash, err := s.hash(ctx, *b.Password)
		if err != nil {
			return nil, err
		}
		c.PasswordHash = &hash
	}
	was, p, err := s.store.ChangePerson(ctx, r.Id, c)
	switch {
	case errors.Is(err, store.ErrInUse):
		return nil, problem.Field("/role", "this is the last owner; make someone else an owner first")
	case errors.Is(err, store.ErrChanged):
		return nil, problem.New(http.StatusConflict, "Changed meanwhile", "Someone else changed this account. Look at it again, then change it.")
	}
	if err == nil {
		Note(ctx, s.store, auditChanged, changes(was, p, c))
	}
	return api.ChangePerson200JSONResponse(personOut(p)), err
}
