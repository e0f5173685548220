package main

import (
	"crypto/tls"
	"crypto/x509"
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"testing"
	"time"

	"zorvel/api"
)

// The demo over HTTPS: what a phone does, from the plain address to the sign-in.
func TestDemoOverHTTPS(t *testing.T) {
	dir := t.TempDir()
	cmd := exec.Command(binary(t), "demo", "--https", "--empty", "--dir", dir, "--port", "0", "--https-port", "0")
	var out output
	cmd.Stdout, cmd.Stderr = &out, &out
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	defer func() {
		_ = cmd.Process.Signal(syscall.SIGTERM)
		_ = cmd.Wait()
	}()
	said := regexp.MustCompile(`(https://\S+)\s+Trust it first at\s+(http://\S+)/trust`)
	var found []string
	for end := time.Now().Add(time.Minute); found == nil; time.Sleep(50 * time.Millisecond) {
		if found = said.FindStringSubmatch(out.String()); found == nil && time.Now().After(end) {
			t.Fatalf("it did not start:\n%s", out.String())
		}
	}
	secure, plain := found[1], found[2]
	get := func(c *http.Client, url string) (*http.Response, []byte) {
		t.Helper()
		res, err := c.Get(url)
		if err != nil {
			t.Fatalf("%s: %v", url, err)
		}
		b, err := io.ReadAll(res.Body)
		if err == nil {
			err = res.Body.Close()
		}
		if err != nil {
			t.Fatal(err)
		}
		return res, b
	}
	if _, err := http.Get(secure + "/healthz"); err == nil {
		t.Error("a phone that was told nothing trusts it")
	}
	_, der := get(http.DefaultClient, plain+"/trust/zorvel-authority.crt")
	root, err := x509.ParseCertificate(der)
	if err != nil {
		t.Fatal(err)
	}
	roots := x509.NewCertPool()
	roots.AddCert(root)
	jar, _ := cookiejar.New(nil)
	phone := &http.Client{Jar: jar, Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: roots, MinVersion: tls.VersionTLS12}}}
	defer phone.CloseIdleConnections()
	// Whoever types the plain address arrives at the secure one.
	if res, page := get(phone, plain+"/units"); res.Request.URL.Scheme != "https" || !strings.Contains(string(page), "<div id=") {
		t.Errorf("the plain address leads to %s", res.Request.URL)
	}
	var way api.Phones
	_, b := get(phone, secure+"/api/v1/phones")
	if err := json.Unmarshal(b, &way); err != nil {
		t.Fatal(err)
	}
	if !way.Secure || len(way.Addresses) != 1 || way.Addresses[0] != secure || way.Trust[0] != plain+"/trust" || way.Fingerprint == nil {
		t.Errorf("the way in: %s", b)
	}
	if res, page := get(http.DefaultClient, plain+"/trust"); res.StatusCode != http.StatusOK ||
		!strings.Contains(string(page), *way.Fingerprint) {
		t.Errorf("the page to trust: %d", res.StatusCode)
	}
	// The cookie of a secure server never leaves in the clear.
	res, err := phone.Post(secure+"/api/v1/owner", "application/json",
		strings.NewReader(`{"name":"Oda","sign_in":"oda","password":"chalk-and-flange"}`))
	if err != nil {
		t.Fatal(err)
	}
	_ = res.Body.Close()
	if c := res.Cookies(); res.StatusCode >= 300 || len(c) == 0 || !c[0].Secure {
		t.Errorf("signed in: %d, %v", res.StatusCode, c)
	}
	told, err := exec.Command(binary(t), "https", "--https-dir", filepath.Join(dir, "https"), "--https-name", "127.0.0.1").CombinedOutput()
	if err != nil || !strings.Contains(string(told), *way.Fingerprint) {
		t.Errorf("zorvel https: %v, %s", err, told)
	}
}
