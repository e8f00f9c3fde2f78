<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Archive\OpenBag;
use Geschenk\Core\Archive\PlainVault;
use Geschenk\Core\Archive\Workplace;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Import\Bag\BagImporter;
use Geschenk\Core\Import\Carried;
use Geschenk\Core\Import\ChatLines\ChatLinesImporter;
use Geschenk\Core\Import\ChatStore\ChatStoreImporter;
use Geschenk\Core\Import\Chosen;
use Geschenk\Core\Import\DataFolder\DataFolderImporter;
use Geschenk\Core\Import\Found;
use Geschenk\Core\Import\Importers;
use Geschenk\Core\Import\LocalBackup\LocalBackupImporter;
use Geschenk\Core\Import\PhoneBackup\PhoneBackupImporter;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\Messenger\WholePhone\Head;
use Geschenk\Core\Messenger\WholePhone\PhoneFiles;
use Geschenk\Core\NoProgress;
use Geschenk\Core\ReadingCopy\Selected;
use Geschenk\Core\Stick\StickHindrance;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Lines\LinesWriter;
use Geschenk\Core\Transfer\BackupMaker;
use Geschenk\Core\Transfer\Fetched;
use Geschenk\Core\Transfer\PullJournal;
use Geschenk\Core\UnusableInput;
use Geschenk\Standin\Phone\ComputerBackup;
use Geschenk\Standin\Phone\FolderPhoneLink;
use Geschenk\Tests\Support\Backups;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Formats\Quillet\Android\AndroidWriter;
use Geschenk\Tests\Support\OtherFormats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What lies elsewhere is found and made a backup of, wherever it is interrupted. */
final class ImportTest extends TestCase
{
    use Scratch;

    /** How often whoever imports has asked whether it is there. */
    private int $asked = 0;

    public function testWhatIsOnAStickIsFoundAndNothingElse(): void
    {
        $phone = Phones::giving($this->path('phones'));
        $stick = Folder::make($this->path('stick'));
        exec(sprintf('cp -a %s %s', escapeshellarg($phone->data('otterpost')), escapeshellarg($stick.'/a phone')));
        (new Backups())->overCable(new FolderPhoneLink($phone), $this->path('bag'));
        Folder::make($stick.'/x/y');
        exec(sprintf('cp -a %s %s', escapeshellarg($this->path('bag')), escapeshellarg($stick.'/x/bag')));
        copy($this->path('bag').'/data/chats.sqlite', $stick.'/x/y/chats.sqlite');
        Disk::put($stick.'/lines', '{"chats":{"version":1}}');
        Disk::put($stick.'/papers.docx', "PK\x03\x04".str_repeat('x', 90));
        Disk::put($stick.'/papers.zip', "PK\x03\x04\x0a\0\1\0".str_repeat('x', 90));
        Disk::put($stick.'/letter.txt', 'Dear shop');
        symlink($this->path('bag'), $stick.'/linked');
        symlink($stick.'/lines', $stick.'/linked-lines');
        posix_mkfifo($stick.'/pipe', 0o600);
        touch($stick.'/lines', 2_000_000_000);

        ['found' => $found, 'whole' => $isWhole] = self::importers(new Formats())->in($stick);
        self::assertTrue($isWhole);
        self::assertSame('lines', $found[0]->path, 'What was changed last is first.');
        $told = array_map(static fn (Found $one): array => [$one->path, $one->sort, $one->lock?->value], $found);
        self::assertEqualsCanonicalizing([
            ['a phone', 'data_folder', 'open'], ['x/bag', 'backup', 'open'],
            ['x/y/chats.sqlite', 'chat_store', 'open'], ['lines', 'chat_lines', 'open'],
            ['papers.zip', 'zip', 'password'],
        ], array_values(array_filter($told, static fn (array $one): bool => 'local_backup' !== $one[1])));
        foreach ($found as $one) {
            self::assertGreaterThan(20, $one->bytes, $one->path);
        }

        symlink($stick.'/x', $stick.'/way');
        foreach (['linked', 'way/bag', '../bag', 'x/../x/bag', '/x/bag', 'linked-lines', 'letter.txt'] as $path) {
            self::assertNull(self::importers(new Formats())->at($stick, $path), $path);
        }
        self::assertSame('backup', self::importers(new Formats())->at($stick, 'x/bag')?->sort);

        // What lies deeper than is looked keeps nobody from what lies beside it.
        Disk::put(Folder::make($stick.'/1/2/3/4/5/6/7').'/lines', '{"chats":{"version":1}}');
        Disk::put($stick.'/1/2/3/4/5/6/lines', '{"chats":{"version":1}}');
        ['found' => $found, 'whole' => $isWhole] = self::importers(new Formats())->in($stick);
        self::assertFalse($isWhole);
        self::assertContains('1/2/3/4/5/6/lines', array_column($found, 'path'));
        self::assertNotContains('1/2/3/4/5/6/7/lines', array_column($found, 'path'));

        for ($n = 0; $n < 210; ++$n) {
            Disk::put("$stick/many-$n", '{"chats":{"version":1}}');
        }
        ['found' => $found, 'whole' => $isWhole] = self::importers(new Formats())->in($stick);
        self::assertSame([200, false], [count($found), $isWhole]);
    }

    public function testItIsGoneOnWithWhereverItWasPulledOut(): void
    {
        $source = Phones::giving($this->path('phones'))->data('otterpost');
        $wanted = self::told($this->make($source, '', 'data_folder', 'whole'));
        $steps = $this->asked;
        self::assertGreaterThan(80, $steps);
        for ($stop = 2; $stop < $steps; $stop += max(1, intdiv($steps, 12))) {
            try {
                $this->make($source, '', 'data_folder', 'cut', pulledAt: $stop);
                self::fail("It is out at $stop.");
            } catch (StickHindrance) {
            }
            self::assertFalse((new PlainVault($this->path('vault')))->isKept('cut'));
            $again = $this->make($source, '', 'data_folder', 'cut');
            self::assertSame($wanted, self::told($again), "Pulled out at $stop.");
            (new PlainVault($this->path('vault')))->discard('cut');
        }
    }

    /** @return iterable<string, array{string|null}> */
    public static function underAPasswordOrNot(): iterable
    {
        yield 'open' => [null];
        yield 'under a password' => ['seven gulls, one Möwe'];
    }

    #[DataProvider('underAPasswordOrNot')]
    public function testAMessengerOfAWholePhoneIsGoneOnWithWhereverItWasPulledOut(?string $password): void
    {
        $phone = Phones::giving($this->path('phones'), ['platform' => 'ios'], false);
        $computer = new ComputerBackup($this->path('stick/computer'), $password);
        $computer->take($phone, 1_790_000_000_000, 1_790_000_100_000);
        $key = null === $password ? null : BackupKey::of($password);
        $wanted = self::told($this->make($phone->data('otterpost'), '', 'data_folder', 'folder'));
        $whole = $this->make($this->path('stick'), 'computer', 'phone_backup', 'whole', key: $key);
        $steps = $this->asked;
        self::assertSame($wanted, self::told($whole), 'It is what the phone’s own folder gives.');
        self::assertGreaterThan(80, $steps);
        for ($stop = 2; $stop < $steps; $stop += max(1, intdiv($steps, 8))) {
            try {
                $this->make($this->path('stick'), 'computer', 'phone_backup', 'cut', pulledAt: $stop, key: $key);
                self::fail("It is out at $stop.");
            } catch (StickHindrance) {
            }
            $again = $this->make($this->path('stick'), 'computer', 'phone_backup', 'cut', key: $key);
            self::assertSame($wanted, self::told($again), "Pulled out at $stop.");
            (new PlainVault($this->path('vault')))->discard('cut');
        }
    }

    #[DataProvider('underAPasswordOrNot')]
    public function testContentThatIsOtherThanItsIndexSaysCostsItselfOrEndsIt(?string $password): void
    {
        $phone = Phones::giving($this->path('phones'), ['platform' => 'ios'], false);
        $folder = $this->path('stick/computer');
        (new ComputerBackup($folder, $password))->take($phone, 1_790_000_000_000, 1_790_000_100_000);
        $key = null === $password ? null : BackupKey::of($password);
        $scratch = ScratchFolder::make();
        (new ReadingHere())->listPhone($folder, $key, $scratch->path.'/'.PhoneFiles::FILE, new NoProgress());
        $listed = new PhoneFiles($scratch);
        $id = $listed->messengers()[0]['id'];
        $place = static function (string $path) use ($listed, $id, $folder): string {
            $content = $listed->file($id, $path)['content'] ?? self::fail("$path is not listed.");

            return $folder.'/'.Head::CONTENT.'/'.substr($content, 0, 2).'/'.$content;
        };
        $chats = $this->make($phone->data('otterpost'), '', 'data_folder', 'folder')->chats();
        $there = array_values(array_unique(array_column(array_filter(
            self::attachments($chats), static fn (array $row): bool => 'present' === $row['presence'],
        ), 'path')));
        self::assertGreaterThan(4, count($there));
        [$changed, $cut, $gone, $linked] = $there;
        $bytes = (string) file_get_contents($place($changed));
        file_put_contents($place($changed), substr($bytes, 0, -1).chr(ord($bytes[-1]) ^ 1));
        file_put_contents($place($cut), substr((string) file_get_contents($place($cut)), 0, -5));
        unlink($place($gone));
        rename($place($linked), $this->path('elsewhere'));
        symlink($this->path('elsewhere'), $place($linked));
        $made = $this->make($this->path('stick'), 'computer', 'phone_backup', 'made', key: $key);
        $found = array_column(self::attachments($made->chats()), 'presence', 'path');
        self::assertSame(['unreadable', 'unreadable', 'missing', 'missing', 'present'], [
            $found[$changed], $found[$cut], $found[$gone], $found[$linked], $found[$there[4]],
        ]);
        self::assertSame($chats->summary()['messages'], $made->chats()->summary()['messages']);
        self::assertStringContainsString('file_unreadable', (string) json_encode($made->chats()->findings()));

        $database = $place('Pouch.sqlite');
        $bytes = (string) file_get_contents($database);
        $bytes[900] = chr(ord($bytes[900]) ^ 1);
        foreach ([$bytes, substr($bytes, 0, -900), null] as $instead) {
            null === $instead ? unlink($database) : file_put_contents($database, $instead);
            try {
                $this->make($this->path('stick'), 'computer', 'phone_backup', 'none', key: $key);
                self::fail('Its chats are not what they were.');
            } catch (UnusableInput $unusable) {
                self::assertSame(['phone_backup_broken', 'Pouch.sqlite'], [
                    $unusable->reason, $unusable->fields['where'],
                ]);
            }
            (new PlainVault($this->path('vault')))->discard('none');
        }
    }

    public function testALinkInAFilesPlaceIsNotFollowed(): void
    {
        $source = Phones::giving($this->path('phones'))->data('otterpost');
        $chats = $this->make($source, '', 'data_folder', 'whole')->chats();
        $named = array_values(array_filter(
            self::attachments($chats), static fn (array $row): bool => 'present' === $row['presence'],
        ))[0]['path'] ?? self::fail('None is there.');
        $secret = $this->path('secret');
        Disk::put($secret, 'nobody else’s affair');
        unlink($source.'/'.$named);
        symlink($secret, $source.'/'.$named);
        $lacks = $this->make($source, '', 'data_folder', 'lacks');
        [$before, $after] = [$chats->summary(), $lacks->chats()->summary()];
        self::assertGreaterThan($before['attachments_missing'], $after['attachments_missing']);
        self::assertSame($before['messages'], $after['messages']);
        foreach ($lacks->raw()->paths() as $path) {
            self::assertNotSame(hash_file('sha256', $secret), $lacks->raw()->sha256($path), $path);
        }
    }

    /** The files of a copy lie open: the keys that the messenger has for them open nothing of it. */
    public function testWhatWasLockedOnThePhoneComesBackOpen(): void
    {
        $data = Folder::make($this->path('quillet'));
        $seed = 44;
        do {
            Folder::remove($this->path('made.sqlite'));
            $made = Chats::random(++$seed, $this->path('made.sqlite'), $this->path('files'), null, 'Quillet');
        } while ($made->summary()['attachments_present'] < 5);
        (new AndroidWriter())->write($made, new FolderFiles($this->path('files')), $data, new NoProgress());
        $reading = OtherFormats::readingApart();
        $first = $this->make($data, '', 'data_folder', 'first', OtherFormats::all(), $reading);
        $chats = $first->chats();
        self::assertGreaterThan(1, iterator_count($chats->contentKeys()));
        $copy = Folder::make($this->path('copy'));
        $lines = fopen($copy.'/all.jsonl', 'w') ?: throw new \RuntimeException('No file.');
        foreach (LinesWriter::lines($chats, new Selected(), $chats->people()) as $line) {
            fwrite($lines, $line);
        }
        fclose($lines);
        $n = 0;
        foreach (self::attachments($chats) as $row) {
            $has = in_array($row['presence'], ['present', 'wrong_type'], true);
            $content = $has ? $first->files()->open($row['path']) : null;
            null === $content ?: Folder::putStream($content, $copy.'/file '.++$n);
        }
        self::assertGreaterThan(1, $n);
        $second = $this->make($copy, 'all.jsonl', 'chat_lines', 'second', OtherFormats::all(), $reading);
        self::assertSame(self::attachments($chats), self::attachments($second->chats()));
        $lacking = array_column(array_filter(
            self::attachments($chats), static fn (array $row): bool => null === $row['sha256'],
        ), 'path');
        self::assertSame([], array_values(array_diff(
            array_keys(iterator_to_array($second->chats()->contentKeys())), $lacking,
        )), 'A key is left of nothing that lies open.');
        foreach (self::attachments($chats) as $row) {
            $found = $second->files()->look($row['path'], $row['media_type']);
            self::assertSame([$row['presence'], $row['sha256']], [$found['presence']->value, $found['sha256']]);
        }
    }

    public function testWhatIsNothingOfThatSortAnyMoreIsRefused(): void
    {
        $stick = Folder::make($this->path('stick'));
        Disk::put($stick.'/lines', '{"chats":{"version":1}}');
        $none = [['lines', 'chat_store'], ['../lines', 'chat_lines'], ['gone', 'chat_lines'], ['lines', 'no_sort']];
        foreach ($none as [$path, $sort]) {
            try {
                $this->make($stick, $path, $sort, 'none');
                self::fail("$path is no $sort.");
            } catch (UnusableInput $unusable) {
                self::assertSame('not_messenger_data', $unusable->reason);
            }
        }
        Folder::make($stick.'/b.sealed');
        try {
            $this->make($stick, 'b.sealed', 'backup', 'none');
            self::fail('Another shop has sealed it.');
        } catch (UnusableInput $unusable) {
            self::assertSame('sealed_elsewhere', $unusable->reason);
        }
    }

    /** @param int|null $pulledAt how often it may be asked for before it is out */
    private function make(
        string $root,
        string $path,
        string $sort,
        string $id,
        Formats $formats = new Formats(),
        ChatReading $reading = new ReadingHere(),
        ?int $pulledAt = null,
        ?BackupKey $key = null,
        Chosen $chosen = new Chosen(),
    ): OpenBag {
        $vault = new PlainVault($this->path('vault'));
        $this->asked = 0;
        $there = fn (): string => ++$this->asked === $pulledAt ? throw StickHindrance::gone('Blue') : $root;
        (new BackupMaker($reading, $vault))->makeOf(
            static fn (Workplace $place, PullJournal $journal): Fetched => self::importers($formats)->fetch(
                new Carried($there, $path, $place, $journal, $reading, new NoProgress(), $key, $chosen), $sort,
            ), $id, [], new NoProgress(),
        );
        $vault->verify($id);
        $backup = $vault->open($id);
        self::assertInstanceOf(OpenBag::class, $backup);

        return $backup;
    }

    private static function importers(Formats $formats): Importers
    {
        return new Importers([
            new BagImporter(), new ChatLinesImporter(), new ChatStoreImporter(), new DataFolderImporter($formats),
            new LocalBackupImporter($formats), new PhoneBackupImporter(),
        ]);
    }

    /** @return array{array<string, mixed>, list<array<string, mixed>>, array<string, string>} */
    private static function told(OpenBag $backup): array
    {
        $hashes = [];
        foreach ($backup->raw()->paths() as $path) {
            $hashes[$path] = $backup->raw()->sha256($path);
        }
        ksort($hashes);

        return [$backup->chats()->summary(), self::attachments($backup->chats()), $hashes];
    }

    /** @return list<array{path: string, media_type: string, presence: string, sha256: string|null}> */
    private static function attachments(ChatStore $chats): array
    {
        $rows = [];
        foreach ($chats->connect()->few(<<<'SQL'
            SELECT path, media_type, presence, sha256 FROM attachment ORDER BY message_id, attachment_id LIMIT 9999
            SQL) as $row) {
            $rows[] = [
                'path' => $row->text('path'), 'media_type' => $row->text('media_type'),
                'presence' => $row->text('presence'), 'sha256' => $row->nullableText('sha256'),
            ];
        }

        return $rows;
    }
}
