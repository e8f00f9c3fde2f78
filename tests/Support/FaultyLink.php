<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\Core\Phone\FileUnreadable;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\RelayedLink;
use Geschenk\Standin\Phone\FolderPhoneLink;
use Geschenk\Standin\Phone\PhoneFolder;
use Random\Randomizer;

/**
 * A cable to a stand-in phone that loses bytes, meets storage that can't be read, and files that change under its
 * hands.
 */
final class FaultyLink extends RelayedLink
{
    /** @var array<string, int> bytes up to which a file can be read, for good */
    public array $unreadable = [];
    /** @var list<string> what went wrong, for the message of a test */
    public array $log = [];
    private int $left;

    /** @param int $faults how many there will be, beside those for good */
    public function __construct(private readonly PhoneFolder $phone, private readonly Randomizer $chance, int $faults)
    {
        parent::__construct(new FolderPhoneLink($phone));
        $this->left = $faults;
    }

    public function pull(string $app, string $path, mixed $sink, callable $onBytes, int $from = 0): array
    {
        $file = $this->link->file($app, $path) ?? throw PhoneRefuses::noFile($path);
        if (isset($this->unreadable[$path])) {
            $this->part($app, $path, $sink, $this->unreadable[$path]);
            throw FileUnreadable::of($path, $this->unreadable[$path], $file->bytes);
        }
        if ($this->left > 0 && 0 === $this->chance->getInt(0, 3)) {
            --$this->left;
            $at = $this->chance->getInt(0, max(0, $file->bytes - 1));
            $fault = $this->chance->getInt(1, 4);
            if (1 === $fault) {
                $this->log[] = "$path comes short after $at";

                return $this->part($app, $path, $sink, $at);
            }
            if (2 === $fault) {
                $this->log[] = "$path can't be read once after $at";
                $this->part($app, $path, $sink, $at);
                throw FileUnreadable::of($path, $at, $file->bytes);
            }
            if (3 === $fault && !str_contains($path, 'pouch')) {
                $this->log[] = "$path is written anew";
                $pulled = $this->link->pull($app, $path, $sink, $onBytes, $from);
                $full = $this->phone->data($app).'/'.$path;
                file_put_contents($full, $this->chance->getBytes(max(1, $file->bytes)));
                touch($full, time() - 1_000 - $this->left);

                return $pulled;
            }
            $this->log[] = "a photo comes in while $path is pulled";
            $this->photo($app);
        }

        return $this->link->pull($app, $path, $sink, $onBytes, $from);
    }

    /** A message with a photo that nobody had listed. */
    private function photo(string $app): void
    {
        $n = $this->chance->getInt(1, 1_000_000_000);
        file_put_contents($this->phone->data($app)."/parcels/photo/late-$n.jpg", "\xFF\xD8\xFF late $n");
        touch($this->phone->data($app)."/parcels/photo/late-$n.jpg", time() - 500);
        $database = new \SQLite3($this->phone->data($app).'/pouch.db');
        $database->exec(
            'INSERT INTO slip (room_id, wire_id, mine, sort, sent_ms, stage) '
                ."VALUES (1, 'LATE-$n', 1, 1, 1795192900000, 20); INSERT INTO parcel (slip_id, store_name, "
                ."media_type, octets) VALUES (last_insert_rowid(), 'photo/late-$n.jpg', 'image/jpeg', 9)",
        );
        $database->close();
        foreach (['pouch.db', 'pouch.db-wal'] as $file) {
            is_file($this->phone->data($app).'/'.$file) && touch(
                $this->phone->data($app).'/'.$file, time() - 400 - $this->left,
            );
        }
    }

    /**
     * @param resource $sink
     *
     * @return array{bytes: int, sha256: string}
     */
    private function part(string $app, string $path, mixed $sink, int $bytes): array
    {
        $part = substr((string) file_get_contents($this->phone->data($app).'/'.$path), 0, $bytes);
        fwrite($sink, $part);

        return ['bytes' => $bytes, 'sha256' => hash('sha256', $part)];
    }
}
