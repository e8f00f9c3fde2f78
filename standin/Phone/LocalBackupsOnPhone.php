<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidFormat;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema;
use Geschenk\Core\Messenger\Otterpost\Android\OpenBackup;
use Geschenk\Core\Messenger\Otterpost\Android\SealedBackup;
use Geschenk\Core\Sqlite\Database;

/** The backups that a messenger on Android makes of itself, when its owner has it do so. */
final class LocalBackupsOnPhone
{
    /** Of those that it made, it keeps so many. */
    private const KEPT = 7;

    public static function canMake(PhoneFolder $phone, string $app): bool
    {
        return is_file($phone->data($app).'/'.AndroidSchema::DATABASE);
    }

    /**
     * @param int      $at    s since 1970 UTC: when it is made
     * @param int|null $until milliseconds since 1970 UTC: what was sent later had not come yet
     */
    public static function make(PhoneFolder $phone, string $app, bool $withVideos, int $at, ?int $until = null): void
    {
        $data = $phone->data($app);
        $spare = $data.'/'.AndroidSchema::SPARES.'/'.gmdate('Y-m-d\TH-i-s\Z', $at);
        $scratch = ScratchFolder::make();
        self::copyDatabase($data.'/'.AndroidSchema::DATABASE, $scratch->path.'/'.AndroidSchema::DATABASE, $until);
        Folder::make($spare);
        $key = self::key($phone, $app);
        if (null === $key) {
            OpenBackup::pack($scratch->path.'/'.AndroidSchema::DATABASE, $file = $spare.'/'.OpenBackup::FILE);
        } else {
            SealedBackup::seal($scratch->path.'/'.AndroidSchema::DATABASE, $file = $spare.'/'.SealedBackup::FILE, $key);
        }
        touch($file, $at);
        $format = new AndroidFormat();
        foreach (Folder::files($data, AndroidSchema::PARCELS) as $path) {
            if ($withVideos || !$format->isVideo($path)) {
                Folder::make(dirname($spare.'/'.$path));
                link($data.'/'.$path, $spare.'/'.$path) ?: throw Disk::failure('link', $spare.'/'.$path);
            }
        }
        $spares = glob($data.'/'.AndroidSchema::SPARES.'/*', \GLOB_ONLYDIR) ?: [];
        foreach (array_slice($spares, 0, -self::KEPT) as $old) {
            Folder::remove($old);
        }
    }

    /** Bytes of those that lie on a phone: over the cable they do not travel. */
    public static function lying(PhoneFolder $phone): int
    {
        $bytes = 0;
        foreach ($phone->state()['apps'] as $app) {
            $data = $phone->data($app['id']);
            foreach (is_dir($data) ? Folder::files($data) : [] as $path) {
                $isOwn = SealedBackup::FILE === $path || str_starts_with($path, AndroidSchema::SPARES.'/');
                $bytes += $isOwn ? (int) @filesize($data.'/'.$path) : 0;
            }
        }

        return $bytes;
    }

    /** What one takes at most. */
    public static function bytes(PhoneFolder $phone, string $app): int
    {
        $data = $phone->data($app);
        $bytes = (int) filesize($data.'/'.AndroidSchema::DATABASE);
        foreach (Folder::files($data, AndroidSchema::PARCELS) as $path) {
            $bytes += (int) filesize($data.'/'.$path);
        }

        return $bytes;
    }

    /** What its owner tells. */
    public static function told(PhoneFolder $phone, string $app): ?string
    {
        foreach ($phone->state()['apps'] as $one) {
            if ($one['id'] === $app) {
                return $one['backup_key'] ?? null;
            }
        }

        return null;
    }

    private static function key(PhoneFolder $phone, string $app): ?BackupKey
    {
        $told = self::told($phone, $app);

        return null === $told ? null : BackupKey::of($told);
    }

    /** A key as the messenger makes one up, in groups of eight; or a password that its owner thought of. */
    public static function newKey(BackupLock $lock): ?string
    {
        return match ($lock) {
            BackupLock::Open => null,
            BackupLock::Digits => trim(chunk_split(bin2hex(random_bytes(32)), 8, ' ')),
            BackupLock::Password => 'gulls over the mole '.random_int(10, 99),
        };
    }

    /** With what is in its write-ahead log, and as it was at a moment. */
    private static function copyDatabase(string $from, string $to, ?int $until): void
    {
        // Of a copy: closing the database itself would bring its log in.
        foreach (['', '-wal'] as $suffix) {
            if (is_file($from.$suffix) && !copy($from.$suffix, $to.'.live'.$suffix)) {
                throw Disk::failure('write', $to);
            }
        }
        $database = new Database(new \SQLite3($to.'.live'));
        $database->run('VACUUM INTO ?', [$to]);
        $database->close();
        if (null === $until) {
            return;
        }
        $copy = new Database(new \SQLite3($to));
        $copy->run('DELETE FROM slip WHERE sent_ms > ?', [$until]);
        foreach (AndroidSchema::TABLES as $table => $columns) {
            if ('slip' !== $table && str_contains($columns, ' slip_id INTEGER')) {
                $copy->execute("DELETE FROM $table WHERE slip_id NOT IN (SELECT slip_id FROM slip)");
            }
        }
        $copy->execute(<<<'SQL'
            UPDATE room SET last_slip_id = (SELECT MAX(slip_id) FROM slip WHERE slip.room_id = room.room_id);
            VACUUM
            SQL);
        $copy->close();
    }
}
