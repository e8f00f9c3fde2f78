<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\WholePhone;

use Geschenk\Core\Chat\Times;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\LockedContent;
use Geschenk\Core\Files\Locked\NotUnlocked;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\ChatFiles;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\ForeignDatabase;
use Geschenk\Core\Sqlite\Insert;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Sqlite\Selection;
use Geschenk\Core\UnusableInput;

/**
 * Reads the index of a computer's backup of a whole phone, which somebody else wrote, and lists the files of the
 * messengers that are in it, date by date, as PhoneFiles. Files of anything else are nobody's affair here.
 */
final class IndexReading
{
    /** Messengers times dates that are listed at most, the newest of them. */
    private const MOST = 200;
    private const LONGEST_TITLE = 80;
    private const SHA256 = '/^[0-9a-f]{64}$/D';

    /** @var array<string, int> rows that could not be used, by messenger */
    private array $spoilt = [];

    private function __construct(
        private readonly string $name,
        private readonly Formats $formats,
        private readonly ForeignDatabase $foreign,
        private readonly Database $list,
    ) {
    }

    /**
     * @param string      $list path of the list; appears when it is complete
     * @param string|null $name what errors call the folder; its path where nothing else is said
     *
     * @throws UnusableInput
     * @throws DiskFull
     */
    public static function list(
        string $folder,
        ?BackupKey $key,
        string $list,
        ?string $name = null,
        Formats $formats = new Formats(),
    ): void {
        $name ??= $folder;
        $head = Head::of($folder, $name);
        // What was under a password comes onto no disk here, where it is little.
        $scratch = ScratchFolder::make((int) @filesize($folder.'/'.$head->index()));
        $index = $scratch->path.'/'.Head::OPEN_INDEX;
        $isAsPromised = self::bring($folder, $head, $key, $index, $name);
        try {
            $foreign = ForeignDatabase::open($index, IndexSchema::TABLES, '');
            $made = Database::createAnew($list.'.part');
            $made->execute(implode(';', PhoneFiles::TABLES));
            $made->execute('CREATE TEMP TABLE listed AS SELECT * FROM file WHERE 0; BEGIN');
            $foreign->guard(fn () => (new self($name, $formats, $foreign, $made))->all($head, $isAsPromised));
        } catch (UnusableInput $unusable) {
            throw $unusable->named($index, $name);
        }
        $made->execute('COMMIT');
        $made->close();
        $foreign->close();
        Disk::move($list.'.part', $list);
    }

    /** @return bool whether it is what the head promises */
    private static function bring(string $folder, Head $head, ?BackupKey $told, string $index, string $name): bool
    {
        $key = $head->key($told, $name);
        if (!Folder::hasPlain($folder, $head->index())) {
            throw UnusableInput::phoneBackupBroken($name, 'missing', $head->index());
        }
        $source = @fopen($folder.'/'.$head->index(), 'r') ?: throw UnusableInput::unreadable($name);
        $target = Disk::open($index, 'w');
        $hash = hash_init('sha256');
        try {
            if (null === $key) {
                while ('' !== ($piece = Disk::read($source, Cipher::PIECE, $name))) {
                    hash_update($hash, $piece);
                    Disk::write($target, $piece, $index);
                }

                return hash_final($hash) === $head->sha256;
            }
            // Whatever its head says: what is locked opens whole or not at all.
            foreach (LockedContent::of($source, $key) as $piece) {
                Disk::write($target, $piece, $index);
            }

            return true;
        } catch (NotUnlocked) {
            throw UnusableInput::phoneBackupBroken($name, 'changed', $head->index());
        } finally {
            fclose($source);
            Disk::close($target, $index);
        }
    }

    private function all(Head $head, bool $isAsPromised): void
    {
        $found = $this->foreign->tables();
        foreach (IndexSchema::TABLES as $table => $statement) {
            $missing = array_diff(Selection::columns($statement), $found[$table] ?? []);
            if ([] !== $missing) {
                throw UnusableInput::damaged($this->name, "table $table lacks ".implode(', ', $missing));
            }
        }
        if ([$head->id] !== array_map(
            static fn (Row $row): ?string => $row->nullableText('id'), $this->foreign->database->few(<<<'SQL'
            SELECT CAST(id AS BLOB) AS id FROM backup LIMIT 2
            SQL),
        )) {
            throw UnusableInput::phoneIndexOfAnother($this->name);
        }
        $messengers = $this->messengers($this->apps());
        $this->files(array_map(static fn (array $one): string => $one['id'], $messengers));
        foreach ($messengers as $one) {
            $this->list->insert('messenger', [
                'id' => $one['id'], 'title' => $one['title'], 'taken_ms' => $one['taken_ms'],
            ]);
            foreach ($one['chats'] as $path) {
                $this->list->insert('chat_file', ['messenger' => $one['id'], 'path' => $path]);
            }
            $spoilt = $this->spoilt[$one['id']] ?? 0;
            0 === $spoilt ?: $this->fault($one['id'], 'row_unreadable', 'file', $spoilt);
            if (!$isAsPromised || null !== $this->foreign->damage) {
                // What it does not list any more, nobody else knows.
                $this->fault($one['id'], 'loss_uncounted', $head->index(), 1);
            }
        }
    }

    /**
     * @return array<int, array{id: string, title: string, taken_ms: int}> apps of what the computer finished, by their
     *                                                                     ids, the newest first
     */
    private function apps(): array
    {
        $dates = $apps = [];
        $isAny = false;
        foreach ($this->foreign->database->rows('SELECT taken_id, begun_ms, ended_ms FROM taken') as $row) {
            $isAny = true;
            if (is_int($row->values['begun_ms']) && Times::areNear($row->values['begun_ms'])
                && is_int($row->values['ended_ms'])) {
                $dates[$row->int('taken_id')] = $row->values['begun_ms'];
            }
        }
        if ($isAny && [] === $dates) {
            throw UnusableInput::phoneBackupUnfinished($this->name);
        }
        foreach ($this->foreign->database->rows(<<<'SQL'
            SELECT app_id, taken_id, CAST(name AS BLOB) AS name, CAST(title AS BLOB) AS title FROM app
            SQL) as $row) {
            $taken = $row->values['taken_id'] ?? null;
            $takenAt = is_int($taken) ? $dates[$taken] ?? null : null;
            $name = mb_scrub((string) $row->nullableText('name'));
            if (null !== $takenAt && '' !== $name) {
                $app = $row->int('app_id');
                $title = trim(mb_scrub((string) $row->nullableText('title')));
                $apps[$app] = [
                    'id' => $app.'@'.$takenAt, 'taken_ms' => $takenAt,
                    'title' => mb_substr('' === $title ? $name : $title, 0, self::LONGEST_TITLE),
                ];
            }
        }
        uasort($apps, static fn (array $a, array $b): int => [$b['taken_ms'], $a['id']] <=> [$a['taken_ms'], $b['id']]);

        return $apps;
    }

    /**
     * @template Known of array{id: string, title: string, taken_ms: int}
     *
     * @param array<int, Known> $apps
     *
     * @return array<int, array{id: string, title: string, taken_ms: int, chats: list<string>}> those with chats
     */
    private function messengers(array $apps): array
    {
        $formats = $this->formats->all();
        $paths = [];
        foreach ($this->foreign->database->rows('SELECT app_id, CAST(path AS BLOB) AS path FROM file') as $row) {
            $app = $row->values['app_id'] ?? null;
            $path = $row->nullableText('path');
            if (!is_int($app) || !isset($apps[$app]) || null === $path || !Folder::staysInside($path)) {
                continue;
            }
            foreach ($formats as $n => $format) {
                if ($format->chatFiles()->hold($path)) {
                    $paths[$app][$n][$path] = $path;
                    if (count($paths[$app][$n]) > ChatFiles::MOST) {
                        throw UnusableInput::tooManyChatFiles($this->name, ChatFiles::MOST);
                    }
                }
            }
        }
        $messengers = [];
        foreach ($apps as $app => $about) {
            $chats = [];
            foreach ($paths[$app] ?? [] as $n => $held) {
                foreach ($formats[$n]->chatFiles()->among(array_values($held)) as $path) {
                    $chats[$path] = $path;
                }
            }
            if ([] !== $chats && count($messengers) < self::MOST) {
                $messengers[$app] = [...$about, 'chats' => array_values($chats)];
            }
        }

        return [] === $messengers ? throw UnusableInput::noMessengerOnPhone($this->name) : $messengers;
    }

    /** @param array<int, string> $messengers ids, by those of their apps */
    private function files(array $messengers): void
    {
        $listed = new Insert($this->list, 'temp.listed', [
            'messenger' => \SQLITE3_TEXT, 'path' => \SQLITE3_TEXT, 'content' => \SQLITE3_TEXT,
            'bytes' => \SQLITE3_INTEGER, 'sha256' => \SQLITE3_TEXT, 'key' => \SQLITE3_BLOB,
        ]);
        $columns = Selection::of(IndexSchema::TABLES['file']);
        foreach ($this->foreign->database->rows("SELECT $columns FROM file ORDER BY file_id") as $row) {
            $app = $row->values['app_id'] ?? null;
            if (is_int($app) && isset($messengers[$app])) {
                $this->file($messengers[$app], $row, $listed);
            }
        }
        // Where two rows of one path say different things, nobody knows which is meant.
        $this->list->execute(<<<'SQL'
            INSERT INTO file
                SELECT messenger, path, MIN(content), MIN(bytes), MIN(sha256), MIN(key)
                FROM temp.listed
                GROUP BY messenger, path
                HAVING COUNT(DISTINCT content || ' ' || sha256 || ' ' || COALESCE(HEX(key), '')) = 1;
            INSERT INTO fault
                SELECT messenger, 'file_twice', 'file', COUNT(DISTINCT path)
                FROM temp.listed
                WHERE (messenger, path) NOT IN (SELECT messenger, path FROM file)
                GROUP BY messenger;
            SQL);
    }

    private function file(string $messenger, Row $row, Insert $listed): void
    {
        $path = $row->nullableText('path');
        $content = $row->nullableText('content');
        $sha256 = $row->nullableText('sha256');
        $bytes = $row->values['bytes'] ?? null;
        $key = $row->values['key'] ?? null;
        $isUsable = null !== $path && Folder::staysInside($path) && null !== $content && null !== $sha256
            && 1 === preg_match(self::SHA256, $content) && 1 === preg_match(self::SHA256, $sha256)
            && is_int($bytes) && $bytes >= 0
            && (null === $key || (is_string($key) && Cipher::SecretStream->keyBytes() === strlen($key)));
        if ($isUsable) {
            $listed->row([$messenger, $path, $content, $bytes, $sha256, $key]);
        } else {
            $this->spoilt[$messenger] = ($this->spoilt[$messenger] ?? 0) + 1;
        }
    }

    private function fault(string $messenger, string $code, string $subject, int $count): void
    {
        $this->list->insert('fault', [
            'messenger' => $messenger, 'code' => $code, 'subject' => $subject, 'count' => $count,
        ]);
    }
}
