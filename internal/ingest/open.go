package ingest

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"strings"

	"turret/internal/app/fault"
)

// named is a part with the name that tells it from the others of its file, empty where it is the only one.
type named struct {
	name string
	part part
	done func()
}

// then has something done, after what is to be done already, once the part is read.
func (n *named) then(f func()) {
	before := n.done
	n.done = func() {
		if before != nil {
			before()
		}
		f()
	}
}

// open finds the sheets of a file on disk. What is wrong with the file as a whole comes back as a *problemError.
func open(at, name string) ([]named, error) {
	f, err := os.Open(at)
	if err != nil {
		return nil, err
	}
	info, err := f.Stat()
	if err != nil {
		return nil, errors.Join(err, f.Close())
	}
	if info.Size() > MaxBytes {
		_ = f.Close()
		return nil, tooLong(name)
	}
	reopen := func() (io.ReadCloser, error) { return os.Open(at) }
	list, err := sheets(f, info.Size(), name, reopen)
	if err != nil {
		return nil, errors.Join(err, f.Close())
	}
	list[len(list)-1].then(func() { _ = f.Close() })
	return list, nil
}

// tooLarge is what was expected of a file that is larger, with how to split it.
func tooLarge() string {
	return fmt.Sprintf("at most %d MB; split it: a ledger or timesheets by month, other kinds by project", MaxBytes>>20)
}

func tooLong(name string) error { return unreadable(name, tooLarge()) }

type source interface {
	io.Reader
	io.ReaderAt
}

func sheets(f source, size int64, name string, reopen func() (io.ReadCloser, error)) ([]named, error) {
	head := make([]byte, 512)
	n, err := f.ReadAt(head, 0)
	if err != nil && !errors.Is(err, io.EOF) {
		return nil, err
	}
	switch trimmed := bytes.TrimLeft(bytes.TrimPrefix(head[:n], []byte("\ufeff")), " \t\r\n"); {
	case bytes.HasPrefix(head, []byte("PK\x03\x04")):
		return zipped(f, size, name)
	case bytes.HasPrefix(head, []byte("\xd0\xcf\x11\xe0")):
		return nil, unreadable(name, "a workbook saved as XLSX; this is an older form or has a password")
	case len(trimmed) > 0 && (trimmed[0] == '[' || trimmed[0] == '{') && !strings.HasSuffix(strings.ToLower(name), ".csv"):
		return arrays(name, reopen)
	}
	return []named{{part: newCSV(name, f)}}, nil
}

func arrays(name string, reopen func() (io.ReadCloser, error)) ([]named, error) {
	found, err := jsonSheets(name, reopen)
	if err != nil {
		return nil, err
	}
	list := make([]named, 0, len(found))
	for _, p := range found {
		list = append(list, named{name: p.key, part: p})
	}
	if len(list) == 0 {
		return nil, unreadable(name, "an array of objects; the file has none")
	}
	return list, nil
}

// zipped opens a workbook, or the files of a ZIP.
func zipped(f io.ReaderAt, size int64, name string) ([]named, error) {
	z, err := zip.NewReader(f, size)
	if err != nil {
		return nil, unreadable(name, "a ZIP or XLSX that can be opened ("+err.Error()+")")
	}
	for _, m := range z.File {
		if m.Name == "xl/workbook.xml" || m.Name == "[Content_Types].xml" {
			return workbook(io.NewSectionReader(f, 0, size), name, z.File)
		}
	}
	list, err := members(z.File, name)
	if err != nil {
		finish(list)
		return nil, err
	}
	if len(list) == 0 {
		return nil, unreadable(name, "a ZIP with files in it; this one is empty")
	}
	return list, nil
}

// members opens the files of a ZIP, each unpacked beside the others on the disk.
func members(files []*zip.File, name string) ([]named, error) {
	var list []named
	left := int64(MaxUnpacked)
	for _, m := range files {
		if m.FileInfo().IsDir() || strings.HasPrefix(m.Name, "__MACOSX/") || strings.HasPrefix(path.Base(m.Name), ".") {
			continue
		}
		member := cleanName(m.Name)
		f, err := unpack(m, name, &left)
		if err != nil {
			return list, err
		}
		found, err := inner(f, name, member)
		if err != nil {
			return list, errors.Join(err, f.Close())
		}
		found[len(found)-1].then(func() { _ = f.Close() })
		for _, p := range found {
			p.name = strings.TrimSuffix(member+" › "+p.name, " › ")
			list = append(list, p)
		}
		if len(list) > MaxSheets {
			return list, unreadable(name, fmt.Sprintf("at most %d files and sheets in a ZIP", MaxSheets))
		}
	}
	return list, nil
}

// inner opens a file of a ZIP.
func inner(f *os.File, name, member string) ([]named, error) {
	info, err := f.Stat()
	if err != nil {
		return nil, err
	}
	head := make([]byte, 4)
	if n, _ := f.ReadAt(head, 0); n == 4 && string(head) == "PK\x03\x04" && !strings.HasSuffix(strings.ToLower(member), ".xlsx") {
		return nil, unreadable(name+" › "+member, "no ZIP within a ZIP")
	}
	size := info.Size()
	return sheets(f, size, name+" › "+member, func() (io.ReadCloser, error) { return within{io.NewSectionReader(f, 0, size)}, nil })
}

// within reads an open file from its beginning; closing it leaves the file open.
type within struct{ *io.SectionReader }

func (within) Close() error { return nil }

// unpack writes a member into a file without a name, and stops where it grows beyond what is allowed.
func unpack(m *zip.File, name string, left *int64) (*os.File, error) {
	in, err := m.Open()
	if err != nil {
		return nil, unreadable(name, "a ZIP that can be unpacked ("+err.Error()+")")
	}
	defer in.Close()
	out, err := os.CreateTemp("", "turret-unpacked-*")
	if err != nil {
		return nil, err
	}
	_ = os.Remove(out.Name()) // it goes with its last reader
	most := min(int64(MaxBytes), *left)
	n, err := io.Copy(out, io.LimitReader(in, most+1))
	if err != nil {
		return nil, errors.Join(unreadable(name, "a ZIP that can be unpacked ("+err.Error()+")"), out.Close())
	}
	if n > most {
		return nil, errors.Join(unreadable(name, fmt.Sprintf("files that unpack to at most %d MB each and %d MB together", MaxBytes>>20,
			MaxUnpacked>>20)), out.Close())
	}
	*left -= n
	_, err = out.Seek(0, io.SeekStart)
	return out, err
}

// cleanName is the last part of a name as sent, without anything that a path or a screen would stumble over.
func cleanName(name string) string {
	name = path.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if r < ' ' || r == 0x7f || r == 0xFFFD {
			return -1
		}
		return r
	}, name)
	if name == "" || name == "." || name == ".." || name == "/" {
		return "file"
	}
	return fault.Clip(name, 200)
}

func workbook(r io.Reader, name string, inside []*zip.File) ([]named, error) {
	size, err := weighed(name, inside)
	if err != nil {
		return nil, err
	}
	book, err := openBook(name, r)
	if err != nil {
		return nil, err
	}
	sheets := book.GetSheetList()
	switch {
	case len(sheets) == 0:
		err = unreadable(name, "a workbook with a sheet")
	case len(sheets) > MaxSheets:
		err = unreadable(name, fmt.Sprintf("a workbook of at most %d sheets", MaxSheets))
	}
	if err != nil {
		return nil, errors.Join(err, book.Close())
	}
	var list []named
	for _, sheet := range sheets {
		list = append(list, named{name: sheet, part: &sheetPart{name: name, sheet: sheet, book: book, large: size > maxTyped}})
	}
	list[len(list)-1].then(func() { _ = book.Close() })
	return list, nil
}
