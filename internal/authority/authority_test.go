package authority

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"io"
	"math/big"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"testing"
	"time"
)

// clock is a time that a test moves.
type clock struct{ t time.Time }

func (c *clock) now() time.Time { return c.t }

func open(t *testing.T, dir string, at *clock, names ...string) *Authority {
	t.Helper()
	a, err := Open(dir, Options{Names: names, Now: at.now})
	if err != nil {
		t.Fatal(err)
	}
	return a
}

// trusts is what a phone thinks that knows the authority.
func trusts(t *testing.T, a *Authority, c *tls.Certificate, name string, at time.Time) error {
	t.Helper()
	roots := x509.NewCertPool()
	root, err := x509.ParseCertificate(a.Root())
	if err != nil {
		t.Fatal(err)
	}
	roots.AddCert(root)
	_, err = c.Leaf.Verify(x509.VerifyOptions{Roots: roots, DNSName: name, CurrentTime: at})
	return err
}

func TestServesWhoTrustsIt(t *testing.T) {
	a, err := Open(t.TempDir(), Options{Names: []string{"Shop.Local.", "192.168.7.20"}})
	if err != nil {
		t.Fatal(err)
	}
	l, err := tls.Listen("tcp", "127.0.0.1:0", a.TLS())
	if err != nil {
		t.Fatal(err)
	}
	srv := &http.Server{ReadHeaderTimeout: time.Second, Handler: http.HandlerFunc(func(w http.ResponseWriter,
		_ *http.Request) {
		_, _ = io.WriteString(w, "in")
	})}
	go func() { _ = srv.Serve(l) }()
	defer func() { _ = srv.Close() }()
	get := func(roots *x509.CertPool, name string) error {
		c := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: roots, ServerName: name,
			MinVersion: tls.VersionTLS12}}}
		defer c.CloseIdleConnections()
		res, err := c.Get("https://" + l.Addr().String())
		if err == nil {
			err = res.Body.Close()
		}
		return err
	}
	roots := x509.NewCertPool()
	root, _ := x509.ParseCertificate(a.Root())
	roots.AddCert(root)
	for _, name := range []string{"shop.local", "192.168.7.20", "localhost", "127.0.0.1"} {
		if err := get(roots, name); err != nil {
			t.Errorf("%s: %v", name, err)
		}
	}
	if err := get(roots, "elsewhere.example"); err == nil {
		t.Error("another name is served as if it were the shop's")
	}
	if err := get(x509.NewCertPool(), "shop.local"); err == nil {
		t.Error("a phone that was never told trusts it")
	}
}

// Who steals the authority's key can't vouch for anything but the shop's own names.
func TestVouchesForNothingElse(t *testing.T) {
	now := time.Now()
	a := open(t, t.TempDir(), &clock{now}, "shop.local", "192.168.7.20")
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	for name, stolen := range map[string]*x509.Certificate{
		"bank.example":    {DNSNames: []string{"bank.example"}},
		"other.local":     {DNSNames: []string{"other.local"}},
		"192.168.7.21":    {IPAddresses: []net.IP{net.ParseIP("192.168.7.21")}},
		"shop.local":      {DNSNames: []string{"shop.local"}},
		"2001:db8::1":     {IPAddresses: []net.IP{net.ParseIP("2001:db8::1")}},
		"www.bank.local.": {DNSNames: []string{"www.bank.local"}},
	} {
		stolen.SerialNumber, stolen.NotBefore, stolen.NotAfter = big.NewInt(7), now.Add(-time.Hour), now.Add(time.Hour)
		stolen.ExtKeyUsage = []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth}
		der, err := x509.CreateCertificate(rand.Reader, stolen, a.root, key.Public(), a.key)
		if err != nil {
			t.Fatal(err)
		}
		c, err := x509.ParseCertificate(der)
		if err != nil {
			t.Fatal(err)
		}
		err = trusts(t, a, &tls.Certificate{Leaf: c}, name, now)
		if (err == nil) != (name == "shop.local") {
			t.Errorf("%s: %v", name, err)
		}
	}
	if a.root.MaxPathLen != 0 || !a.root.MaxPathLenZero {
		t.Error("the authority can make others")
	}
}

func TestRenewsItself(t *testing.T) {
	dir, at := t.TempDir(), &clock{time.Date(2026, 3, 1, 8, 0, 0, 0, time.UTC)}
	a := open(t, dir, at, "shop.local")
	first, err := a.current()
	if err != nil {
		t.Fatal(err)
	}
	for day := range 3650 {
		at.t = at.t.AddDate(0, 0, 1)
		c, err := a.current()
		if day == 3649 {
			break // the authority ends on this day
		}
		if err != nil {
			t.Fatalf("day %d: %v", day, err)
		}
		if err := trusts(t, a, c, "shop.local", at.t); err != nil {
			t.Fatalf("day %d: %v", day, err)
		}
		if left := c.Leaf.NotAfter.Sub(at.t); left < renewBefore-24*time.Hour && c.Leaf.NotAfter.Before(a.Ends()) {
			t.Fatalf("day %d: %v left", day, left)
		}
		if day == 20 && c.Leaf.SerialNumber.Cmp(first.Leaf.SerialNumber) != 0 {
			t.Error("it was renewed without need")
		}
	}
	at.t = at.t.AddDate(0, 1, 0)
	if _, err := Open(dir, Options{Names: []string{"shop.local"}, Now: at.now}); err == nil {
		t.Error("an authority that ended is served with")
	}
	if _, err := Renew(dir, Options{Names: []string{"shop.local"}, Now: at.now}); err != nil {
		t.Error(err)
	}
}

// A folder that can't be written any more serves on while the certificate is good.
func TestServesOnWhileItCanNotRenew(t *testing.T) {
	dir, at := filepath.Join(t.TempDir(), "https"), &clock{time.Now()}
	a := open(t, dir, at, "shop.local")
	if err := os.RemoveAll(dir); err != nil {
		t.Fatal(err)
	}
	at.t = at.t.AddDate(0, 0, serverDays-10)
	if c, err := a.current(); err != nil || c == nil {
		t.Errorf("ten days before its end: %v", err)
	}
	at.t = at.t.AddDate(0, 0, 11)
	if _, err := a.current(); err == nil {
		t.Error("an ended certificate is served")
	}
}

func TestIsFoundAgain(t *testing.T) {
	dir, at := t.TempDir(), &clock{time.Now()}
	a := open(t, dir, at, "shop.local")
	first, _ := a.current()
	b := open(t, dir, at, "shop.local")
	again, _ := b.current()
	if a.Fingerprint() != b.Fingerprint() || first.Leaf.SerialNumber.Cmp(again.Leaf.SerialNumber) != 0 {
		t.Error("a restart made others")
	}
	info, err := os.Stat(filepath.Join(dir, "authority.key"))
	if err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the key is %v, %v", info.Mode(), err)
	}
	if _, err := Open(dir, Options{Names: []string{"other.example"}, Now: at.now}); !errors.Is(err, ErrNotCovered) {
		t.Errorf("a name that it was not made for: %v", err)
	}
	also, err := Open(dir, Options{Names: []string{"shop.local"}, Also: []string{"10.0.0.9"}, Now: at.now})
	if err != nil || len(also.Names()) != 4 {
		t.Errorf("an address of today that it does not cover: %v", err)
	}
	if err := os.Chmod(filepath.Join(dir, "authority.key"), 0o644); err != nil {
		t.Fatal(err)
	}
	if _, err := Open(dir, Options{Names: []string{"shop.local"}, Now: at.now}); err == nil {
		t.Error("a key that anyone can read is served with")
	}
}

func TestDamagedFolders(t *testing.T) {
	for file, content := range map[string]string{"authority.pem": "no certificate", "authority.key": "no key"} {
		dir, at := t.TempDir(), &clock{time.Now()}
		open(t, dir, at, "shop.local")
		if err := os.WriteFile(filepath.Join(dir, file), []byte(content), 0o600); err != nil {
			t.Fatal(err)
		}
		if _, err := Open(dir, Options{Names: []string{"shop.local"}, Now: at.now}); err == nil {
			t.Errorf("%s is damaged, and nothing says so", file)
		}
	}
	dir, at := t.TempDir(), &clock{time.Now()}
	open(t, dir, at, "shop.local")
	if err := os.Remove(filepath.Join(dir, "authority.key")); err != nil {
		t.Fatal(err)
	}
	if _, err := Open(dir, Options{Names: []string{"shop.local"}, Now: at.now}); err == nil {
		t.Error("the key is gone, and the phones' authority is replaced without a word")
	}
	// What the authority can sign anew is signed anew.
	for file, content := range map[string]string{"server.pem": "no certificate", "server.key": ""} {
		dir, at := t.TempDir(), &clock{time.Now()}
		open(t, dir, at, "shop.local")
		if err := os.WriteFile(filepath.Join(dir, file), []byte(content), 0o600); err != nil {
			t.Fatal(err)
		}
		a := open(t, dir, at, "shop.local")
		if c, err := a.current(); err != nil || trusts(t, a, c, "shop.local", at.t) != nil {
			t.Errorf("%s: %v", file, err)
		}
	}
}

func TestNames(t *testing.T) {
	for _, bad := range []string{"a b", "-x", "x-", "shop..local", "http://shop", "shop:8443", "ü.local", "*"} {
		if _, err := Open(t.TempDir(), Options{Names: []string{bad}}); err == nil {
			t.Errorf("%q is taken as a name", bad)
		}
	}
	a, err := Open(t.TempDir(), Options{Names: []string{" SHOP.local. ", "shop.local", "::1", "10.0.0.7"}})
	if err != nil {
		t.Fatal(err)
	}
	if got := a.Names(); len(got) != 5 {
		t.Errorf("%v", got)
	}
}
