<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\WholePhone;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Files\Locked\LockedContent;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Messenger\ReadingApart;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\Messenger\WholePhone\Head;
use Geschenk\Core\Messenger\WholePhone\PhoneFiles;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\UnusableInput;
use Geschenk\Standin\Phone\ComputerBackup;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** A computer's backup of a whole phone, which somebody else made: its messengers are listed, or why not is said. */
final class IndexReadingTest extends TestCase
{
    use Scratch;

    private const PASSWORD = 'seven gulls, one Möwe';
    private const BEGUN = 1_790_000_000_000;
    /** A messenger is known by the names of its files. */
    private const CHATS = 'Pouch.sqlite';

    public function testEachMessengerOfEachDateIsListedAndNothingElse(): void
    {
        foreach ([null, self::PASSWORD] as $password) {
            $computer = new ComputerBackup($folder = $this->path('computer '.$password), $password);
            $phone = $this->phone(['otterpost' => [self::CHATS => 'chats', 'Media/Bild 1.jpg' => 'one'], 'camera' => [
                'DCIM/1.jpg' => 'one', 'Pouch.sqlite.txt' => 'x',
            ]]);
            $computer->take($phone, self::BEGUN, self::BEGUN + 5);
            Disk::put($phone->data('otterpost').'/Media/Bild 2.jpg', '');
            Disk::put($phone->data('otterpost').'/'.self::CHATS, 'more chats');
            $computer->take($phone, self::BEGUN + 86_400_000, self::BEGUN + 86_400_005);
            $computer->take($phone, self::BEGUN + 2 * 86_400_000, null);

            self::assertTrue(Head::recognises($folder));
            self::assertSame(null === $password ? BackupLock::Open : BackupLock::Password, Head::lockOf($folder));
            foreach ([new ReadingHere(), self::apart()] as $reading) {
                $files = $this->list($folder, $password, $reading);
                $told = array_map(static fn (array $one): array => [
                    $one['title'], $one['taken_ms'] - self::BEGUN, $one['files'], $one['bytes'],
                ], $files->messengers());
                self::assertSame([['Otterpost', 86_400_000, 3, 13], ['Otterpost', 0, 2, 8]], $told);
                [$later, $first] = array_column($files->messengers(), 'id');
                self::assertSame([self::CHATS], $files->chatFiles($first));
                self::assertNull($files->file($first, 'Media/Bild 2.jpg'));
                self::assertSame('chats', $this->content($folder, $files->file($first, self::CHATS)));
                self::assertSame('more chats', $this->content($folder, $files->file($later, self::CHATS)));
                self::assertSame('one', $this->content($folder, $files->file($later, 'Media/Bild 1.jpg')));
                self::assertSame('', $this->content($folder, $files->file($later, 'Media/Bild 2.jpg')));
                self::assertSame([[], []], [$files->faults($first), $files->faults($later)]);
            }
            // Content that is the same lies once: 'one' on both dates and in the camera's folder.
            self::assertCount(5, iterator_to_array(Folder::files($folder, Head::CONTENT), false));
        }
    }

    public function testWhatWasWrittenIsWhatIsRead(): void
    {
        $names = ['a', 'Ä', 'Bild 1.jpg', '書類', '-', '%', "it's", "\u{1F980}", '.hidden', 'ﬁ', 'A', "new\nline"];
        for ($seed = 1; $seed <= 8; ++$seed) {
            mt_srand($seed);
            $pick = static fn (): string => $names[mt_rand(0, count($names) - 1)];
            $files = [self::CHATS => 'chats of '.$seed];
            for ($n = mt_rand(0, 40); $n > 0; --$n) {
                $length = mt_rand(0, 1) * mt_rand(0, 70_000);
                $files['in '.$pick().'/'.$pick().mt_rand(0, 9)] = str_repeat($pick(), $length);
            }
            $password = 0 === $seed % 2 ? null : self::PASSWORD.$seed;
            $folder = $this->path("computer $seed");
            (new ComputerBackup($folder, $password))->take(
                $this->phone(['otterpost' => $files, 'notes' => $files]), self::BEGUN, self::BEGUN,
            );
            $listed = $this->list($folder, $password);
            $messengers = $listed->messengers();
            self::assertSame(['notes', 'Otterpost'], self::sorted(array_column($messengers, 'title')));
            foreach ($messengers as ['id' => $id, 'files' => $count, 'bytes' => $bytes]) {
                self::assertSame([count($files), array_sum(array_map(strlen(...), $files))], [$count, $bytes]);
                foreach ($files as $path => $content) {
                    $there = $this->content($folder, $listed->file($id, $path));
                    self::assertSame($content, $there, "Seed $seed, $path.");
                }
            }
        }
    }

    /**
     * @param list<string> $texts
     *
     * @return list<string>
     */
    private static function sorted(array $texts): array
    {
        usort($texts, strcasecmp(...));

        return $texts;
    }

    public function testNothingOfALockedOneIsReadWithoutItsPassword(): void
    {
        $folder = $this->made(self::PASSWORD);
        foreach (Folder::files($folder) as $path) {
            $bytes = (string) file_get_contents($folder.'/'.$path);
            foreach (['some chats', 'otterpost', self::CHATS, hash('sha256', 'some chats')] as $planted) {
                self::assertFalse(str_contains($bytes.$path, $planted), "$path tells $planted.");
            }
        }
        $this->refuses('sealed_needs_key', $folder, null);
        $this->refuses('sealed_wrong_key', $folder, self::PASSWORD.' ');
        $this->refuses('sealed_wrong_key', $folder, '');
    }

    /** @return iterable<string, array{string, \Closure(array<mixed>): (array<mixed>|string)}> */
    public static function heads(): iterable
    {
        $lock = static fn (string $what, mixed $value): \Closure => static fn (array $head): array => [
            'lock' => [$what => $value] + (is_array($head['lock']) ? $head['lock'] : []),
        ] + $head;
        yield 'of a later version' => ['unknown_generation', static fn (array $h): array => ['phone_backup' => 2] + $h];
        yield 'of no version' => [
            'phone_backup_broken', static fn (array $h): array => ['phone_backup' => 'one'] + $h,
        ];
        yield 'cut' => ['phone_backup_broken', static fn (array $h): string => substr((string) json_encode($h), 0, 90)];
        yield 'endless' => [
            'phone_backup_broken',
            static fn (array $h): string => json_encode($h).str_repeat(' ', 70_000),
        ];
        yield 'too deep' => [
            'phone_backup_broken', static fn (array $h): string => Head::BEGINS.str_repeat('[', 9_000),
        ];
        yield 'of another id' => [
            'sealed_wrong_key', static fn (array $h): array => ['id' => str_repeat('a', 32)] + $h,
        ];
        yield 'without an id' => ['phone_backup_broken', static fn (array $h): array => ['id' => [1]] + $h];
        yield 'of an id that leads out' => [
            'phone_backup_broken', static fn (array $h): array => ['id' => '../../../../etc/passwd'] + $h,
        ];
        yield 'without a hash' => ['phone_backup_broken', static fn (array $h): array => ['index_sha256' => 7] + $h];
        yield 'that asks for a day of computing' => ['phone_backup_broken', $lock('passes', 2_000_000_000)];
        yield 'that asks for all memory' => ['phone_backup_broken', $lock('memory', 2_000_000_000_000)];
        yield 'that asks for nothing' => ['phone_backup_broken', $lock('memory', 0)];
        yield 'of another salt' => ['phone_backup_broken', $lock('salt', str_repeat('0', 32))];
        yield 'of another key' => ['phone_backup_broken', $lock('key', str_repeat('0', 96))];
        yield 'of half a key' => ['phone_backup_broken', $lock('key', '00')];
        yield 'of no key' => ['phone_backup_broken', $lock('key', null)];
        yield 'of a lock that is none' => ['phone_backup_broken', static fn (array $h): array => ['lock' => 1] + $h];
    }

    /** @param \Closure(array<mixed>): (array<mixed>|string) $harm */
    #[DataProvider('heads')]
    public function testAHeadThatIsNotRightIsSaid(string $reason, \Closure $harm): void
    {
        $folder = $this->made(self::PASSWORD);
        /** @var array<mixed> $head */
        $head = json_decode((string) file_get_contents($folder.'/'.Head::FILE), true);
        $harmed = $harm($head);
        // What names its version first is known by that.
        is_string($harmed) ?: $harmed = ['phone_backup' => $harmed['phone_backup'] ?? null] + $harmed;
        Disk::put($folder.'/'.Head::FILE, is_string($harmed) ? $harmed : (string) json_encode($harmed));
        $this->refuses($reason, $folder, self::PASSWORD);
    }

    public function testALinkIsNoHead(): void
    {
        $folder = $this->made(null);
        rename($folder.'/'.Head::FILE, $this->path('elsewhere'));
        symlink($this->path('elsewhere'), $folder.'/'.Head::FILE);
        self::assertFalse(Head::recognises($folder));
        $this->refuses('not_messenger_data', $folder, null);
    }

    /** @return iterable<string, array{string, string|\Closure(string): void}> what is done to an open one's index */
    public static function indexes(): iterable
    {
        yield 'that is gone' => ['phone_backup_broken', static function (string $index): void {
            unlink($index);
        }];
        yield 'that is a link' => ['phone_backup_broken', static function (string $index): void {
            rename($index, $index.'.real');
            symlink($index.'.real', $index);
        }];
        yield 'that is cut' => ['cut_short', static function (string $index): void {
            $file = fopen($index, 'r+') ?: throw new \RuntimeException();
            ftruncate($file, 9_000);
        }];
        yield 'that is none' => ['not_sqlite', static function (string $index): void {
            file_put_contents($index, str_repeat('no database ', 900));
        }];
        yield 'of another' => ['phone_index_of_another', "UPDATE backup SET id = 'another'"];
        yield 'of two' => ['phone_index_of_another', "INSERT INTO backup (id) VALUES ('another')"];
        yield 'of none' => ['phone_index_of_another', 'DELETE FROM backup'];
        yield 'of nothing that was finished' => ['phone_backup_unfinished', 'UPDATE taken SET ended_ms = NULL'];
        yield 'of a time that no calendar has' => ['phone_backup_unfinished', 'UPDATE taken SET begun_ms = 1 << 62'];
        yield 'without a table' => ['damaged', 'DROP TABLE file'];
        yield 'without a column' => ['damaged', 'ALTER TABLE app DROP COLUMN title'];
        yield 'without apps' => ['no_messenger_on_phone', 'DELETE FROM app'];
        yield 'without dates' => ['no_messenger_on_phone', 'DELETE FROM taken'];
        yield 'without files' => ['no_messenger_on_phone', 'DELETE FROM file'];
        yield 'of a view that asks for ever' => ['damaged', <<<'SQL'
            DROP TABLE file;
            CREATE VIEW file AS WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n)
                SELECT i AS file_id, 1 AS app_id, 'Pouch.sqlite' AS path, 0 AS changed_ms, '' AS content, 0 AS bytes,
                    '' AS sha256, NULL AS key FROM n
            SQL];
    }

    /** @param string|\Closure(string): void $harm */
    #[DataProvider('indexes')]
    public function testAnIndexThatIsNotRightIsSaid(string $reason, string|\Closure $harm): void
    {
        $folder = $this->made(null);
        $this->harm($folder, $harm);
        $this->refuses($reason, $folder, null);
    }

    public function testAnIndexThatWasChangedIsReadAndSaysSo(): void
    {
        $folder = $this->made(null);
        $this->harm($folder, "UPDATE file SET path = 'Media/other' WHERE path = 'Media/1.jpg'", false);
        $files = $this->list($folder, null);
        $id = $files->messengers()[0]['id'];
        self::assertSame(
            [['code' => 'loss_uncounted', 'subject' => Head::OPEN_INDEX, 'count' => 1]], $files->faults($id),
        );
        self::assertSame('some chats', $this->content($folder, $files->file($id, self::CHATS)));
    }

    public function testALockedIndexThatWasChangedAnywhereIsRefused(): void
    {
        $folder = $this->made(self::PASSWORD);
        $index = $folder.'/'.Head::LOCKED_INDEX;
        $whole = (string) file_get_contents($index);
        foreach ([0, 23, 24, intdiv(strlen($whole), 2), strlen($whole) - 1] as $place) {
            $changed = $whole;
            $changed[$place] = chr(ord($changed[$place]) ^ 1);
            file_put_contents($index, $changed);
            $this->refuses('phone_backup_broken', $folder, self::PASSWORD);
        }
        foreach ([substr($whole, 0, -1), substr($whole, 0, 20), '', $whole.'x'] as $changed) {
            file_put_contents($index, $changed);
            $this->refuses('phone_backup_broken', $folder, self::PASSWORD);
        }
        file_put_contents($index, $whole);
        self::assertCount(1, $this->list($folder, self::PASSWORD)->messengers());
    }

    /** @return iterable<string, array{string, int}> what makes rows of no use, and how many of two */
    public static function rows(): iterable
    {
        $what = [
            "path = '../../../etc/passwd'", "path = '/etc/passwd'", "path = 'a//b'", "path = 'a' || CHAR(0) || 'b'",
            "path = ''", "content = '../../../../../etc/passwd'", 'content = UPPER(content)', 'content = 7',
            'bytes = -1', "bytes = 'many'", "sha256 = 'none'", "sha256 = x'00'", 'key = 7', "key = x'00'",
        ];
        foreach ($what as $set) {
            yield $set => ["UPDATE file SET $set WHERE path = 'Media/1.jpg'", 1];
        }
        yield 'of no app' => ["UPDATE file SET app_id = 77 WHERE path LIKE 'Media/%'", 0];
    }

    #[DataProvider('rows')]
    public function testARowOfNoUseCostsItself(string $harm, int $spoilt): void
    {
        $folder = $this->made(null);
        $this->harm($folder, $harm);
        $files = $this->list($folder, null);
        $id = $files->messengers()[0]['id'];
        self::assertNull($files->file($id, 'Media/1.jpg'));
        self::assertSame('some chats', $this->content($folder, $files->file($id, self::CHATS)));
        self::assertSame(
            0 === $spoilt ? [] : [['code' => 'row_unreadable', 'subject' => 'file', 'count' => $spoilt]],
            $files->faults($id),
        );
    }

    public function testOfAPathThatIsThereTwiceNobodyKnowsWhichIsMeant(): void
    {
        $folder = $this->made(null);
        $this->harm($folder, <<<'SQL'
            INSERT INTO file (app_id, path, content, bytes, sha256)
                SELECT app_id, path, content, bytes, sha256 FROM file WHERE path = 'Media/2.jpg';
            INSERT INTO file (app_id, path, content, bytes, sha256)
                SELECT app_id, 'Media/1.jpg', content, bytes, sha256 FROM file WHERE path = 'Media/2.jpg';
            SQL);
        $files = $this->list($folder, null);
        $id = $files->messengers()[0]['id'];
        self::assertNull($files->file($id, 'Media/1.jpg'));
        self::assertNotNull($files->file($id, 'Media/2.jpg'), 'What is said twice and the same is known.');
        self::assertSame([['code' => 'file_twice', 'subject' => 'file', 'count' => 1]], $files->faults($id));
    }

    public function testAnAppWithoutATitleIsCalledWhatItIs(): void
    {
        $folder = $this->made(null);
        $long = str_repeat('Möwe ', 90);
        foreach ([
            'NULL' => 'otterpost', "' '" => 'otterpost', "x'ff41'" => '?A', "'$long'" => mb_substr($long, 0, 80),
        ] as $set => $title) {
            $this->harm($folder, "UPDATE app SET title = $set");
            self::assertSame($title, $this->list($folder, null)->messengers()[0]['title'], $set);
        }
    }

    /** Any number of apps and dates: the newest are listed, whatever is asked of memory. */
    public function testTheNewestOfManyAreListed(): void
    {
        $folder = $this->made(null);
        $this->harm($folder, <<<'SQL'
            WITH RECURSIVE n (i) AS (SELECT 2 UNION ALL SELECT i + 1 FROM n WHERE i < 600)
                INSERT INTO taken (taken_id, begun_ms, ended_ms) SELECT i, i * 1000, i * 1000 FROM n;
            INSERT INTO app (app_id, taken_id, name) SELECT taken_id + 1000, taken_id, 'otterpost' FROM taken;
            INSERT INTO file (app_id, path, content, bytes, sha256)
                SELECT taken_id + 1000, f.path, f.content, f.bytes, f.sha256 FROM taken, file f;
            SQL);
        $messengers = $this->list($folder, null)->messengers();
        self::assertCount(200, $messengers);
        self::assertSame(600_000, $messengers[2]['taken_ms']);
    }

    private function made(?string $password): string
    {
        $folder = $this->path('computer');
        Folder::remove($folder);
        (new ComputerBackup($folder, $password))->take(
            $this->phone([
                'otterpost' => [self::CHATS => 'some chats', 'Media/1.jpg' => 'one', 'Media/2.jpg' => 'two'],
            ]),
            self::BEGUN, self::BEGUN,
        );

        return $folder;
    }

    /** @param array<string, array<string, string>> $apps contents by path and app */
    private function phone(array $apps): PhoneFolder
    {
        Folder::remove($this->path('phone'));
        $phone = PhoneFolder::make($this->path('phone'), [
            'serial' => 'S', 'maker' => 'Maker', 'model' => 'New', 'platform' => 'ios', 'os_version' => '18',
            'owner' => '', 'plugged' => true, 'unlocked' => true, 'battery' => 50, 'developer_options' => false,
            'debugging' => false, 'admitted' => true, 'storage_total' => 1, 'storage_other' => 1, 'cable_mb_s' => 0.0,
            'apps' => [['id' => 'otterpost', 'name' => 'Otterpost', 'version' => '4', 'number' => null]],
            'faults' => [],
        ]);
        foreach ($apps as $app => $files) {
            foreach ($files as $path => $content) {
                Folder::make(dirname($phone->data($app).'/'.$path));
                Disk::put($phone->data($app).'/'.$path, $content);
            }
        }

        return $phone;
    }

    /**
     * @param string|\Closure(string): void $harm
     * @param bool                          $isMeant whether its head is made to fit
     */
    private function harm(string $folder, string|\Closure $harm, bool $isMeant = true): void
    {
        $index = $folder.'/'.Head::OPEN_INDEX;
        if ($harm instanceof \Closure) {
            $harm($index);
        } else {
            $database = Database::create($index);
            $database->execute('PRAGMA journal_mode = DELETE;'.$harm);
            $database->close();
        }
        if ($isMeant && is_file($index)) {
            /** @var array<mixed> $head */
            $head = json_decode((string) file_get_contents($folder.'/'.Head::FILE), true);
            Disk::put($folder.'/'.Head::FILE, (string) json_encode(
                ['phone_backup' => 1, 'index_sha256' => Disk::sha256($index)] + $head,
            ));
        }
    }

    private function list(string $folder, ?string $password, ReadingHere|ReadingApart|null $reading = null): PhoneFiles
    {
        $scratch = ScratchFolder::make();
        ($reading ?? new ReadingHere())->listPhone(
            $folder, null === $password ? null : BackupKey::of($password), $scratch->path.'/'.PhoneFiles::FILE,
            new NoProgress(), 'it',
        );

        return new PhoneFiles($scratch);
    }

    private function refuses(string $reason, string $folder, ?string $password): void
    {
        foreach ([new ReadingHere(), self::apart()] as $reading) {
            try {
                $this->list($folder, $password, $reading);
                self::fail("It is read, and should be refused: $reason.");
            } catch (UnusableInput $unusable) {
                self::assertSame($reason, $unusable->reason);
                self::assertSame('it', $unusable->fields['path'] ?? null, 'No path of this computer is told.');
            }
        }
    }

    /** @param array{content: string, sha256: string, key: \Geschenk\Core\Files\Locked\ContentKey|null}|null $file */
    private function content(string $folder, ?array $file): string
    {
        self::assertNotNull($file);
        $path = sprintf('%s/%s/%s/%s', $folder, Head::CONTENT, substr($file['content'], 0, 2), $file['content']);
        $stream = Disk::open($path, 'r');
        $content = null === $file['key']
            ? (string) stream_get_contents($stream)
            : implode('', iterator_to_array(LockedContent::of($stream, $file['key']), false));
        self::assertSame($file['sha256'], hash('sha256', $content));

        return $content;
    }

    private static function apart(): ReadingApart
    {
        return new ReadingApart(dirname(__DIR__, 4).'/bin/read-chats');
    }
}
