package session

import (
	"bytes"
	"compress/gzip"
	"context"
	"database/sql"
	"errors"
	"io"
)

// MostShown is how many pages are kept of an account, those shown last.
const MostShown = 4

// Shown is a page as an account saw it last. State is all that it hangs on, so that it stays right as long as that is the same.
type Shown struct {
	Account        int64
	Address, State string
	HTML           []byte
}

// KeepShown keeps a page in the place of what was shown at its address before.
func (s *Store) KeepShown(ctx context.Context, p Shown) error {
	var b bytes.Buffer
	z := gzip.NewWriter(&b)
	_, err := z.Write(p.HTML)
	if err = errors.Join(err, z.Close()); err != nil {
		return err
	}
	_, err = s.db.ExecContext(ctx, `INSERT OR REPLACE INTO shown (account, address, state, at, html) VALUES (?, ?, ?, ?, ?)`, p.Account,
		p.Address, p.State, s.now().UnixMicro(), b.Bytes())
	if err != nil {
		return err
	}
	_, err = s.db.ExecContext(ctx, `DELETE FROM shown WHERE account = ?1 AND address NOT IN
		(SELECT address FROM shown WHERE account = ?1 ORDER BY at DESC, address LIMIT ?2)`, p.Account, MostShown)
	return err
}

// LastShown is the page that an account saw at an address in a state; nil where none is kept.
func (s *Store) LastShown(ctx context.Context, account int64, address, state string) ([]byte, error) {
	var packed []byte
	err := s.db.GetContext(ctx, &packed, `SELECT html FROM shown WHERE account = ? AND address = ? AND state = ?`, account, address, state)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	z, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, err
	}
	return io.ReadAll(z)
}
