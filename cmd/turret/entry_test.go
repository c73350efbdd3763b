package main

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"encoding/pem"
	"math/big"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// signed writes a certificate of this machine with a serial number, and its key.
func signed(t *testing.T, dir string, serial int64, made time.Time) (certificate, key string, pool *x509.CertPool) {
	t.Helper()
	private, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	template := &x509.Certificate{SerialNumber: big.NewInt(serial), NotBefore: time.Now().Add(-time.Hour),
		NotAfter:    time.Now().Add(time.Hour),
		IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, IsCA: true, BasicConstraintsValid: true}
	der, err := x509.CreateCertificate(rand.Reader, template, template, &private.PublicKey, private)
	require.NoError(t, err)
	secret, err := x509.MarshalECPrivateKey(private)
	require.NoError(t, err)
	certificate, key = filepath.Join(dir, "c.pem"), filepath.Join(dir, "k.pem")
	require.NoError(t, os.WriteFile(key, pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: secret}), 0o600))
	require.NoError(t, os.WriteFile(certificate, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), 0o600))
	require.NoError(t, os.Chtimes(certificate, made, made))
	pool = x509.NewCertPool()
	parsed, err := x509.ParseCertificate(der)
	require.NoError(t, err)
	pool.AddCert(parsed)
	return certificate, key, pool
}

// A server speaks HTTPS itself, marks its cookies so, and takes a renewed certificate without being started again; a half renewed one
// changes nothing.
func TestAServerSpeaksHTTPSItself(t *testing.T) {
	dir := t.TempDir()
	certificate, key, pool := signed(t, dir, 7, time.Now().Add(-time.Hour))
	out := served(t, "--db", loaded(t), "--tls-cert", certificate, "--tls-key", key)
	base := strings.TrimPrefix(out.find(`Turret is at https://\S+`), "Turret is at ")
	require.NotEmpty(t, base)
	serial := func(pool *x509.CertPool) int64 {
		client := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: pool, MinVersion: tls.VersionTLS12}}}
		r, err := http.NewRequestWithContext(t.Context(), http.MethodGet, base+"/healthz", nil)
		require.NoError(t, err)
		resp, err := client.Do(r)
		require.NoError(t, err)
		defer resp.Body.Close()
		assert.Equal(t, http.StatusOK, resp.StatusCode)
		return resp.TLS.PeerCertificates[0].SerialNumber.Int64()
	}
	assert.EqualValues(t, 7, serial(pool))
	_, _, renewed := signed(t, dir, 8, time.Now().Add(-time.Minute))
	assert.EqualValues(t, 8, serial(renewed))
	require.NoError(t, os.WriteFile(key, []byte("half"), 0o600))
	require.NoError(t, os.Chtimes(certificate, time.Now(), time.Now()))
	assert.EqualValues(t, 8, serial(renewed))
}

func TestHowPeopleComeInIsSaidWhole(t *testing.T) {
	db := loaded(t)
	for args, says := range map[string]string{
		"--tls-cert c.pem":                                          "--tls-cert and --tls-key go together",
		"--tls-cert no.pem --tls-key no.pem":                        "--tls-cert: stat no.pem",
		"--sign-on https://id.example":                              `--address "": expected where people reach the server`,
		"--sign-on https://id.example --address turret.example.org": `--address "turret.example.org": expected`,
	} {
		_, errs, code := run(t, append([]string{"serve", "--addr", ":0", "--db", db}, strings.Fields(args)...)...)
		assert.Equal(t, 2, code, args)
		assert.Contains(t, errs, says)
	}
}
