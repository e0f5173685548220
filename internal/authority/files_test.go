package authority

import (
	"os"
	"path/filepath"
	"testing"
	"time"
)

func TestFilesAreTakenUpWhenTheyChange(t *testing.T) {
	at := &clock{time.Now()}
	one, two := t.TempDir(), t.TempDir()
	open(t, one, at, "shop.example")
	open(t, two, at, "shop.example")
	cert, key := filepath.Join(one, "server.pem"), filepath.Join(one, "server.key")
	if _, err := Files(cert, filepath.Join(two, "server.key")); err == nil {
		t.Error("a key of another certificate is taken")
	}
	cfg, err := Files(cert, key)
	if err != nil {
		t.Fatal(err)
	}
	f := &files{cert: cert, key: key}
	if err := f.load(); err != nil {
		t.Fatal(err)
	}
	first, err := cfg.GetCertificate(nil)
	if err != nil {
		t.Fatal(err)
	}
	replace := func(file string, content []byte) {
		t.Helper()
		if err := os.WriteFile(file, content, 0o600); err != nil {
			t.Fatal(err)
		}
		later := time.Now().Add(time.Hour)
		if err := os.Chtimes(file, later, later); err != nil {
			t.Fatal(err)
		}
		f.looked = time.Time{}
	}
	fresh := map[string][]byte{}
	for _, name := range []string{"server.pem", "server.key"} {
		b, err := os.ReadFile(filepath.Join(two, name))
		if err != nil {
			t.Fatal(err)
		}
		fresh[name] = b
	}
	replace(cert, fresh["server.pem"]) // the key is still the old one
	if c, err := f.get(nil); err != nil || c.Leaf.SerialNumber.Cmp(first.Leaf.SerialNumber) != 0 {
		t.Errorf("half of a new pair: %v", err)
	}
	replace(key, fresh["server.key"])
	if c, err := f.get(nil); err != nil || c.Leaf.SerialNumber.Cmp(first.Leaf.SerialNumber) == 0 {
		t.Errorf("the new certificate is not taken up: %v", err)
	}
	if err := os.Remove(cert); err != nil {
		t.Fatal(err)
	}
	f.looked = time.Time{}
	if c, err := f.get(nil); err != nil || c == nil {
		t.Errorf("with the file gone: %v", err)
	}
}
