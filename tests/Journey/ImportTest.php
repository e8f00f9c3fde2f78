<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Import;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\Upload;
use Geschenk\App\Files\Upload\UploadPlaces;
use Geschenk\App\Work\Erasing;
use Geschenk\App\Work\Import\ImportPlaces;
use Geschenk\App\Work\Import\LeftImports;
use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Archive\OpenBackup;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\ReadingCopy\Selected;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Lines\LinesWriter;
use Geschenk\Core\Store\StoreSchema;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\ComputerBackup;
use Geschenk\Standin\Phone\LocalBackupsOnPhone;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Standin\Stick\FolderStick;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Clock\Clock;
use Symfony\Component\Clock\MockClock;
use Symfony\Component\Clock\NativeClock;

/** What a customer brings on a stick, or sends as a file, becomes a backup that the shop keeps. */
final class ImportTest extends ApiTestCase
{
    use Scratch;

    private const WHOM = ['customer' => 'Ärmel Test', 'contact' => 'the café', 'consent' => true, 'language' => 'en'];
    private const PASSWORD = 'four loaves and a Möwe';
    /** What an earlier look at the files can't tell as it was: paths, and findings of whoever read them. */
    private const TOLD_ANEW = ['finding'];

    private FolderStick $stick;

    protected function setUp(): void
    {
        parent::setUp();
        $drawer = self::getContainer()->get(DataFolder::class)->path.'/standin/sticks';
        $this->stick = FolderStick::make($drawer.'/blue', 'Blue', 900_000_000, true);
    }

    public function testADataFolderIsReadAsThePhoneWas(): void
    {
        [, $id] = $this->backedUp();
        $this->copy($this->giving->data('otterpost'), 'old phone/otterpost');
        Disk::put($this->stick->folder().'/letter.txt', 'Dear shop');
        $found = $this->onStick();
        self::assertSame(['data_folder'], array_column($found, 'sort'));
        $made = $this->imported(['path' => 'old phone/otterpost']);
        $this->expectSame($id, $made);
        self::assertSame([], $this->lying());

        $backup = $this->backup($made);
        self::assertSame(['import', '', 'Ärmel Test'], [
            $backup->wayIn, $backup->serial, $backup->customer->name(),
        ]);
        $number = $backup->tray->number;
        $tray = $this->call('GET', "/api/trays/$number");
        self::assertSame(['import', true, [], []], [
            $tray['errand'], $tray['closed'], $tray['phones'], $tray['moves'],
        ]);
        self::assertSame(['opened_import', 'imported'], array_column((array) $tray['steps'], 'code'));
        $of = $backup->customer->id();
        $customer = $this->call('GET', "/api/customers/$of");
        self::assertSame($made, $this->value($customer, 'backups', 0, 'of', 'id'));
        self::assertStringContainsString('what they brought is kept', $this->text($customer, 'trays', 0, 'agreed'));
        $row = $this->call('POST', '/api/cupboard/find', ['words' => 'Ärmel']);
        self::assertSame($made, $this->value($row, 'backups', 0, 'of', 'id'));
        $this->signIn('orla');
        $log = (string) json_encode($this->call('GET', '/api/log'), \JSON_UNESCAPED_UNICODE);
        self::assertStringContainsString("Asked for the import for customer $of", $log);
        self::assertStringContainsString('Imported from the stick “Blue”: Otterpost', $log);
        self::assertStringNotContainsString('old phone', $log);
    }

    public function testItComesOntoAPhoneOfTheOtherPlatform(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->copy($this->giving->data('otterpost'), 'otterpost');
        $made = $this->imported(['path' => 'otterpost']);
        $n = $this->broughtOntoAPhone($made);
        self::assertSame($this->backup($made)->messages, $this->value($this->move($n), 'arrival', 'messages'));
        $this->handOver($n);
    }

    /** @return iterable<string, array{array<string, mixed>, string|null}> */
    public static function takenHome(): iterable
    {
        yield 'as a folder' => [['packing' => 'folder'], null];
        yield 'as a ZIP' => [['packing' => 'zip'], null];
        yield 'as a ZIP under a password' => [['packing' => 'zip', 'password' => self::PASSWORD], self::PASSWORD];
        yield 'as a bag' => [['packing' => 'bag'], null];
    }

    /** @param array<string, mixed> $wish */
    #[DataProvider('takenHome')]
    public function testWhatWasTakenHomeToReadComesBackAsItWas(array $wish, ?string $password): void
    {
        [, $id] = $this->backedUp();
        $this->call('POST', "/api/backups/$id/copies", $wish + [
            'forms' => ['lines', 'files'], 'stick' => 'blue', 'language' => 'en',
        ], 202);
        $this->work();
        $found = $this->onStick();
        self::assertCount(1, $found, (string) json_encode($found));
        self::assertSame(null !== $password, $this->value($found, 0, 'is_locked'));
        $path = $this->text($found, 0, 'path');
        if (null !== $password) {
            $asked = $this->wish(['path' => $path]);
            self::assertSame('import_needs_key', $this->refusal('POST', '/api/imports', $asked));
        }
        $made = $this->imported(['path' => $path, 'key' => $password]);
        // The files came under other names than the phone has: they are found by what is in them.
        $this->expectSame($id, $made);
        self::assertSame([], $this->lying());
    }

    public function testChatsWithoutTheirFilesSayThatTheyLackThem(): void
    {
        [, $id] = $this->backedUp();
        $chats = $this->open($id)->chats();
        $lines = fopen($this->stick->folder().'/all.jsonl', 'w') ?: throw new \RuntimeException('No file.');
        foreach (LinesWriter::lines($chats, new Selected(), $chats->people()) as $line) {
            fwrite($lines, $line);
        }
        fclose($lines);
        $chats->copyTo($this->stick->folder().'/store.sqlite');
        self::assertEqualsCanonicalizing(['chat_lines', 'chat_store'], array_column($this->onStick(), 'sort'));
        foreach (['all.jsonl', 'store.sqlite'] as $n => $path) {
            $made = $this->imported(['path' => $path, 'customer' => "Somebody $n"]);
            $summary = $this->open($made)->chats()->summary();
            self::assertSame($chats->summary()['messages'], $summary['messages']);
            self::assertSame([$summary['attachments'], 0], [
                $summary['attachments_missing'], $summary['attachments_present'],
            ]);
            // Those without a byte have nothing that could be lacking.
            self::assertSame(
                $this->attachments($id, "presence = 'empty'"), $this->attachments($made, "presence = 'empty'"),
            );
            self::assertSame(0, $this->attachments($made, "presence NOT IN ('missing', 'empty', 'refused')"));
            self::assertStringContainsString('attachment_not_carried', (string) json_encode(
                $this->open($made)->chats()->findings(),
            ));
        }
    }

    public function testABackupOfOursIsHeldAgainstItsManifest(): void
    {
        [, $id] = $this->backedUp();
        $bag = $this->bagOnStick($id);
        self::assertSame([['backup', 'bag']], array_map(
            fn (mixed $one): array => is_array($one) ? [$one['sort'], $one['path']] : [], $this->onStick(),
        ));
        $this->expectSame($id, $this->imported(['path' => 'bag']));

        $spoilt = null;
        foreach (Folder::files($bag, 'data/raw') as $path) {
            $spoilt = (int) filesize($bag.'/'.$path) > 100 ? $path : $spoilt;
        }
        self::assertNotNull($spoilt);
        $before = (string) file_get_contents($bag.'/'.$spoilt);
        file_put_contents($bag.'/'.$spoilt, substr($before, 0, -1).chr(ord($before[-1]) ^ 1));
        self::assertSame('backup_broken', $this->failed(['path' => 'bag', 'customer' => 'One']));
        file_put_contents($bag.'/'.$spoilt, $before);
        file_put_contents($bag.'/data/raw/one-more', 'x');
        self::assertSame('backup_broken', $this->failed(['path' => 'bag', 'customer' => 'Two']));
        unlink($bag.'/data/raw/one-more');
        file_put_contents($bag.'/manifest-sha256.txt', str_repeat('0', 64)."  data/../../etc\n", \FILE_APPEND);
        self::assertSame('backup_broken', $this->failed(['path' => 'bag', 'customer' => 'Three']));
        self::assertCount(2, $this->entities()->getRepository(Backup::class)->findAll(), 'Nothing came of them.');
    }

    public function testWhatAManifestCantTellOfItsFilesIsSettled(): void
    {
        [, $id] = $this->backedUp();
        $bag = $this->bagOnStick($id);
        // Somebody makes a bag that is right by its manifest, and whose chats say something else of two files.
        $store = new Database(new \SQLite3($bag.'/data/chats.sqlite'));
        $two = $store->few(<<<'SQL'
            SELECT MIN(attachment_id) AS n, path
            FROM attachment
            WHERE presence = 'present' GROUP BY path HAVING COUNT(*) = 1 ORDER BY path LIMIT 2
            SQL);
        self::assertCount(2, $two);
        [$other, $outside] = [$two[0]->int('n'), $two[1]->int('n')];
        $store->run('UPDATE attachment SET sha256 = ? WHERE attachment_id = ?', [str_repeat('a', 64), $other]);
        $store->run("UPDATE attachment SET path = '../../secret' WHERE attachment_id = ?", [$outside]);
        $store->close();
        $this->packAnew($bag);
        $made = $this->imported(['path' => 'bag']);
        $real = hash_file('sha256', $bag.'/data/raw/'.$two[0]->text('path'));
        self::assertSame(1, $this->attachments($made, "path = '{$two[0]->text('path')}' AND sha256 = '$real'"));
        $refused = "path = '../../secret' AND presence = 'refused' AND sha256 IS NULL";
        self::assertSame(1, $this->attachments($made, $refused));
        $findings = (string) json_encode($this->open($made)->chats()->findings());
        self::assertStringContainsString('attachment_other_content', $findings);
        self::assertStringContainsString('attachment_not_carried', $findings);
        self::getContainer()->get(Vault::class)->verify($made);
    }

    public function testAMessengersOwnBackupOpensOnceItsKeyIsTold(): void
    {
        $this->signIn();
        $this->layPhones();
        DemoMaker::lockBackups($this->giving, 'otterpost', DemoMaker::BAKERS_KEY);
        LocalBackupsOnPhone::make($this->giving, 'otterpost', true, time() - 100);
        $this->copy($this->giving->data('otterpost'), 'phone');
        foreach (['', '-wal', '-shm'] as $ending) {
            // The chats themselves were left on the phone.
            array_map(unlink(...), glob($this->stick->folder().'/phone/*.db'.$ending) ?: []);
        }
        $found = $this->onStick();
        $own = array_values(array_filter(
            $found, static fn (mixed $one): bool => is_array($one) && 'local_backup' === $one['sort'],
        ));
        self::assertCount(1, $own, (string) json_encode($found));
        $path = $this->text($own, 0, 'path');
        self::assertSame('digits', $this->value($own, 0, 'lock'));
        self::assertSame('sealed_wrong_key', $this->failed(['path' => $path, 'key' => str_repeat('0', 64)]));
        $id = $this->text($this->newest(), 'id');
        $this->call('POST', "/api/imports/$id/go-on", ['key' => DemoMaker::BAKERS_KEY], 202);
        $this->work();
        self::assertNotNull($this->newest()['made'], (string) json_encode($this->newest()));
        $made = $this->text($this->newest(), 'made', 'backup');
        $found = $this->call('POST', '/api/cupboard/find', ['words' => 'Ärmel']);
        self::assertSame(1, $this->value($found, 'counts', 'kept'));
        self::assertGreaterThan(50, $this->backup($made)->messages);
    }

    public function testAMessengerOfAWholePhoneComesAsItWasAtADate(): void
    {
        $this->signIn();
        $phones = self::getContainer()->get(DataFolder::class)->phones();
        Phones::receiving($phones, ['platform' => 'android', 'developer_options' => true, 'debugging' => true]);
        $computer = new ComputerBackup($this->stick->folder().'/Slate of W', self::PASSWORD);
        foreach ([1_790_000_000_000 => 90, 1_790_500_000_000 => 140] as $at => $slips) {
            $phone = Phones::giving($this->path('home'), ['platform' => 'ios'], false, $slips);
            $computer->take($phone, $at, $at + 900_000);
            // In the evening its lid was closed in the middle.
            $computer->take($phone, $at + 30_000_000, null);
        }
        $found = $this->onStick();
        self::assertSame([['phone_backup', 'Slate of W', 'password']], array_map(
            static fn (mixed $one): array => is_array($one) ? [$one['sort'], $one['path'], $one['lock']] : [], $found,
        ));
        $wish = ['path' => 'Slate of W'];
        self::assertSame('import_needs_key', $this->refusal('POST', '/api/imports', $this->wish($wish)));
        self::assertSame('sealed_wrong_key', $this->failed($wish + ['key' => 'another']));
        self::assertSame([true, []], [$this->newest()['wants_key'], $this->newest()['parts']]);
        $on = '/api/imports/'.$this->text($this->newest(), 'id').'/go-on';
        $this->call('POST', $on, ['key' => self::PASSWORD], 202);
        $this->work();
        $held = $this->newest();
        self::assertSame([false, null], [$held['wants_key'], $held['made']]);
        self::assertStringContainsString('Choose which', $this->text($held, 'run', 'trouble'));
        // The one that was broken off is none of them, and neither is what is no messenger’s.
        self::assertSame(['2026-09-27', '2026-09-21'], array_map(
            static fn (mixed $at): string => is_string($at) ? substr($at, 0, 10) : '',
            array_column((array) $held['parts'], 'at'),
        ));
        self::assertSame(['Otterpost', 'Otterpost'], array_column((array) $held['parts'], 'name'));
        self::assertSame('no_such_part', $this->refusal('POST', $on, ['part' => '1@1']));
        $this->call('POST', $on, [], 202);
        $this->work();
        self::assertCount(2, (array) $this->newest()['parts'], 'Whoever does not say is asked again.');
        $this->call('POST', $on, ['part' => $this->text($held, 'parts', 1, 'id')], 202);
        $this->work();
        self::assertNotNull($this->newest()['made'], (string) json_encode($this->newest()));
        $made = $this->text($this->newest(), 'made', 'backup');
        $chats = $this->open($made)->chats();
        self::assertSame(Platform::Ios, $chats->source()->platform);
        self::assertSame([], $chats->findings());
        [$then, $later] = array_map(fn (int $slips): int => self::reading(
            Phones::giving($this->path('home'), ['platform' => 'ios'], false, $slips), $this->path("of-$slips"),
        ), [90, 140]);
        self::assertSame($then, $chats->summary()['messages']);
        self::assertNotSame($then, $later);
        self::assertSame('[]', $this->entities()->getConnection()->fetchOne('SELECT parts FROM import'));

        $n = $this->broughtOntoAPhone($made);
        self::assertSame($then, $this->value($this->move($n), 'arrival', 'messages'));
    }

    public function testOfSeveralThingsInAnArchiveOneIsChosen(): void
    {
        [, $id] = $this->backedUp();
        $zip = $this->stick->folder().'/all of it.zip';
        $this->open($id)->chats()->copyTo($this->path('chats.sqlite'));
        $computer = new ComputerBackup($this->path('computer'));
        foreach ([90, 140] as $n => $slips) {
            $phone = Phones::giving($this->path('home'), ['platform' => 'ios'], false, $slips);
            $computer->take($phone, 1_790_000_000_000 + $n, 1_790_000_000_009);
        }
        $archive = new \ZipArchive();
        $archive->open($zip, \ZipArchive::CREATE);
        $archive->addFile($this->path('chats.sqlite'), 'chats.sqlite');
        foreach (Folder::files($this->path('computer')) as $path) {
            $archive->addFile($this->path('computer').'/'.$path, 'computer/'.$path);
        }
        $archive->close();
        self::assertSame('several_parts', $this->failed(['path' => 'all of it.zip']));
        $import = $this->newest();
        self::assertEqualsCanonicalizing(
            [['chats.sqlite', 'chat_store'], ['computer', 'phone_backup']],
            array_map(
                static fn (mixed $one): array => is_array($one) ? [$one['name'], $one['sort']] : [],
                (array) $import['parts'],
            ),
        );
        $on = '/api/imports/'.$this->text($import, 'id').'/go-on';
        $this->call('POST', $on, ['part' => 'computer'], 202);
        $this->work();
        // Of what was chosen one is asked for again: it holds two dates.
        self::assertCount(2, (array) $this->newest()['parts']);
        self::assertNotContains('computer', array_column((array) $this->newest()['parts'], 'id'));
        $this->call('POST', $on, ['part' => $this->text($this->newest(), 'parts', 0, 'id')], 202);
        $this->work();
        $made = $this->text($this->newest(), 'made', 'backup');
        self::assertSame(Platform::Ios, $this->open($made)->chats()->source()->platform);
        self::assertSame([], $this->lying());
    }

    public function testAFileIsSentInPiecesAndGoneOnWith(): void
    {
        [, $id] = $this->backedUp();
        $store = $this->path('chats.sqlite');
        $this->open($id)->chats()->copyTo($store);
        $bytes = (int) filesize($store);
        $upload = $this->call('POST', '/api/uploads', ['name' => 'C:\\old\\chats.sqlite', 'bytes' => $bytes], 201);
        self::assertSame(['chats.sqlite', 0, false], [$upload['name'], $upload['there'], $upload['is_whole']]);
        $at = '/api/uploads/'.$this->text($upload, 'id');
        $ask = $this->wish(['stick' => null, 'upload' => $upload['id']]);
        self::assertSame('upload_not_whole', $this->refusal('POST', '/api/imports', $ask));

        $half = intdiv($bytes, 2);
        $all = (string) file_get_contents($store);
        self::assertSame([200, $half], $this->send($at, 0, substr($all, 0, $half)));
        self::assertSame([409, $half], $this->send($at, 0, substr($all, 0, $half)), 'It knew of none that came.');
        self::assertSame([409, $half], $this->send($at, $half + 1, 'x'));
        self::assertSame(422, $this->send($at, $half, substr($all, $half).'x')[0], 'More than was promised.');
        self::assertSame($half, $this->call('GET', $at)['there']);
        $this->signIn('orla');
        self::assertSame('upload_gone', $this->refusal('GET', $at, null), 'It is its sender’s alone.');
        self::assertSame(422, $this->send($at, $half, 'x')[0]);
        self::assertSame('upload_gone', $this->refusal('POST', '/api/imports', $ask));
        $this->signIn();
        self::assertSame([200, $bytes], $this->send($at, $half, substr($all, $half)));
        $whole = $this->call('GET', $at);
        self::assertSame(['chat_store', false], [$whole['sort'], $whole['is_locked']]);

        $this->call('POST', '/api/imports', $ask, 202);
        self::assertSame('upload_gone', $this->refusal('POST', '/api/imports', $ask), 'Once.');
        self::assertSame('upload_gone', $this->refusal('DELETE', $at, null), 'It goes with its import.');
        $this->work();
        $made = $this->text($this->newest(), 'made', 'backup');
        self::assertSame($this->backup($id)->messages, $this->backup($made)->messages);
        self::assertSame([], $this->lying());
        self::assertSame([], $this->entities()->getRepository(Upload::class)->findAll());
    }

    public function testWhatIsTooMuchOrNothingIsRefused(): void
    {
        $this->signIn();
        self::assertSame('upload_size', $this->refusal('POST', '/api/uploads', [
            'name' => 'x', 'bytes' => 20_000_000_001,
        ]));
        $uploads = [];
        for ($n = 0; $n < 4; ++$n) {
            $uploads[] = $this->call('POST', '/api/uploads', ['name' => "n$n", 'bytes' => 3], 201);
        }
        self::assertSame('too_many_uploads', $this->refusal('POST', '/api/uploads', ['name' => 'n', 'bytes' => 3]));
        $at = '/api/uploads/'.$this->text($uploads[0], 'id');
        self::assertSame(413, $this->send($at, 0, str_repeat('x', 4_194_305))[0]);
        self::assertSame(415, $this->send($at, 0, 'abc', 'text/plain')[0]);
        self::assertSame(422, $this->send($at, 0, '{}', 'application/json')[0]);
        self::assertSame([200, 3], $this->send($at, 0, 'abc'));
        $asked = $this->wish(['stick' => null, 'upload' => $uploads[0]['id']]);
        self::assertSame('nothing_to_import', $this->refusal('POST', '/api/imports', $asked));
        foreach ([
            ['path' => '../..'], ['path' => 'none'], ['stick' => null], ['upload' => $uploads[0]['id']],
        ] as $wish) {
            self::assertSame('nothing_to_import', $this->refusal('POST', '/api/imports', $this->wish($wish)));
        }
        self::assertSame('no_such_stick', $this->refusal('POST', '/api/imports', $this->wish(['stick' => 'red'])));
        $this->call('POST', '/api/imports', $this->wish(['consent' => false]), 422);
        $this->call('POST', '/api/trays', self::WHOM + ['errand' => 'import'], 422);
        self::assertSame([], $this->entities()->getRepository(Customer::class)->findAll(), 'Nobody is left of it.');

        // A day later nobody wants them.
        Clock::set(new MockClock('+25 hours'));
        self::getContainer()->get(LeftImports::class)->sweep();
        self::assertSame([], $this->lying());
        self::assertSame([], $this->entities()->getRepository(Upload::class)->findAll());
    }

    public function testAStickThatIsOutIsWaitedForAndGoneOnWith(): void
    {
        [, $id] = $this->backedUp();
        $this->copy($this->giving->data('otterpost'), 'otterpost');
        $this->call('POST', '/api/imports', $this->wish(['path' => 'otterpost']), 202);
        $this->stick->pull();
        $this->work();
        $run = $this->value($this->newest(), 'run');
        self::assertIsArray($run);
        self::assertSame('waiting', $run['state']);
        self::assertStringContainsString('Blue', $this->text($run, 'trouble'));
        $this->stick->plug();
        self::assertSame('busy_for_customer', $this->refusal('POST', '/api/imports', $this->wish([
            'path' => 'otterpost', 'known' => $this->newest()['customer_id'],
        ])), 'Of each one at a time.');
        $this->work();
        $this->expectSame($id, $this->text($this->newest(), 'made', 'backup'));
    }

    public function testOneThatIsCancelledLeavesNothing(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->copy($this->giving->data('otterpost'), 'otterpost');
        $this->call('POST', '/api/imports', $this->wish(['path' => 'otterpost']), 202);
        $this->stick->pull();
        $this->work();
        $id = $this->text($this->newest(), 'id');
        $this->call('POST', "/api/imports/$id/cancel", [], 202);
        $this->work();
        $places = self::getContainer()->get(Vault::class)->places($id);
        self::assertSame([], array_filter($places, is_dir(...)));
        self::assertSame(RunState::Cancelled, $this->entities()->find(Run::class, $id)?->state());
        self::getContainer()->get(LeftImports::class)->sweep();
        $this->entities()->clear();
        self::assertSame('', $this->entities()->find(Import::class, $id)?->name(), 'What it was called is forgotten.');
        // Who had it begun is found, though no tray was ever opened for them.
        $found = $this->call('POST', '/api/customers/find', ['words' => 'Ärmel']);
        self::assertSame([null, 0], [
            $this->value($found, 'customers', 0, 'last_tray'), $this->value($found, 'customers', 0, 'trays'),
        ]);
    }

    public function testOneThatFailedIsEndedAfterADayAndWhatWasSentGoesWithIt(): void
    {
        [, $id] = $this->backedUp();
        $zip = $this->path('locked.zip');
        $archive = new \ZipArchive();
        $archive->open($zip, \ZipArchive::CREATE);
        $this->open($id)->chats()->copyTo($this->path('chats.sqlite'));
        $archive->addFile($this->path('chats.sqlite'), 'chats.sqlite');
        $archive->setEncryptionName('chats.sqlite', \ZipArchive::EM_AES_256, self::PASSWORD);
        $archive->close();
        $bytes = (string) file_get_contents($zip);
        $upload = $this->call('POST', '/api/uploads', ['name' => 'locked.zip', 'bytes' => strlen($bytes)], 201);
        self::assertSame([200, strlen($bytes)], $this->send('/api/uploads/'.$this->text($upload, 'id'), 0, $bytes));
        $wish = ['stick' => null, 'upload' => $upload['id'], 'key' => 'another'];
        self::assertSame('zip_wrong_password', $this->failed($wish));
        $one = $this->newest();
        self::assertTrue($one['wants_key']);
        self::assertCount(1, self::getContainer()->get(UploadPlaces::class)->ids());
        self::getContainer()->get(LeftImports::class)->sweep();
        self::assertCount(1, self::getContainer()->get(UploadPlaces::class)->ids(), 'It may be gone on with.');

        Clock::set(new MockClock('+25 hours'));
        self::getContainer()->get(LeftImports::class)->sweep();
        $this->work();
        self::getContainer()->get(LeftImports::class)->sweep();
        Clock::set(new NativeClock());
        self::assertSame([], $this->lying());
        $run = $this->entities()->find(Run::class, $this->text($one, 'id'));
        self::assertSame(RunState::Cancelled, $run?->state());
        self::assertSame(['', null], [$this->newest()['name'], $this->newest()['made']]);
    }

    public function testOneThatWasKilledBehindItsVaultIsBroughtToItsEnd(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->copy($this->giving->data('otterpost'), 'otterpost');
        $made = $this->imported(['path' => 'otterpost']);
        // As it was before the record was stored: the vault has it, nobody knows, and the stick is gone.
        $connection = $this->entities()->getConnection();
        $connection->executeStatement('UPDATE import SET backup_id = NULL');
        $connection->executeStatement('DELETE FROM backup');
        $connection->executeStatement("UPDATE run SET state = 'working', finished_at = NULL WHERE kind = 'import'");
        $this->stick->pull();
        $this->work();
        self::assertSame($made, $this->text($this->newest(), 'made', 'backup'));
        self::assertSame(1, $this->value($this->call('POST', '/api/cupboard/find', []), 'counts', 'kept'));
    }

    public function testNothingOfItLiesOpenOnTheDiskOnceItIsKept(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->copy($this->giving->data('otterpost'), 'otterpost');
        $made = $this->imported(['path' => 'otterpost']);
        $this->call('POST', "/api/backups/$made/copies", [
            'forms' => ['lines', 'files'], 'packing' => 'zip', 'stick' => 'blue', 'language' => 'en',
            'reason' => 'moves away',
        ], 403);
        $this->signIn('orla');
        $this->call('POST', "/api/backups/$made/copies", [
            'forms' => ['lines', 'files'], 'packing' => 'zip', 'stick' => 'blue', 'language' => 'en',
            'reason' => 'moves away',
        ], 202);
        $this->work();
        $zip = glob($this->stick->folder().'/*.zip') ?: [];
        self::assertCount(1, $zip);
        $bytes = (string) file_get_contents($zip[0]);
        $upload = $this->call('POST', '/api/uploads', ['name' => 'home.zip', 'bytes' => strlen($bytes)], 201);
        $at = '/api/uploads/'.$this->text($upload, 'id');
        foreach (str_split($bytes, 4_194_304) as $n => $piece) {
            self::assertSame(200, $this->send($at, 4_194_304 * $n, $piece)[0]);
        }
        $this->call('POST', '/api/imports', $this->wish(['stick' => null, 'upload' => $upload['id']]), 202);
        $this->work();
        self::assertNotNull($this->newest()['made'], (string) json_encode($this->newest()));

        $planted = [];
        $chats = $this->open($made)->chats();
        foreach ($chats->conversations() as $conversation) {
            foreach ($chats->messages($conversation->id) as $message) {
                $text = $message->message->text ?? '';
                // Long enough that nothing of ours has it by chance, and what no encoding changes.
                strlen($text) < 30 || 1 !== preg_match('/^[ -~]+$/D', $text) ?: $planted[] = $text;
            }
        }
        self::assertGreaterThan(30, count($planted));
        $files = array_filter(
            iterator_to_array($this->open($made)->raw()->paths(), false),
            fn (string $path): bool => ($this->open($made)->raw()->bytes($path) ?? 0) > 64,
        );
        foreach (array_slice(array_values($files), 0, 20) as $path) {
            $content = $this->open($made)->raw()->open($path);
            self::assertNotNull($content);
            $planted[] = substr((string) stream_get_contents($content), -48);
            fclose($content);
        }
        $data = self::getContainer()->get(DataFolder::class)->path;
        $looked = 0;
        foreach (Folder::files($data) as $file) {
            // What is read from a sealed store is in memory for some minutes; the stick is the customer's.
            if (str_starts_with($file, 'standin/') || str_starts_with($file, 'memory/')) {
                continue;
            }
            $bytes = (string) file_get_contents($data.'/'.$file);
            foreach ($planted as $one) {
                self::assertFalse(str_contains($bytes, $one), "$file holds something of the chats.");
            }
            ++$looked;
        }
        self::assertGreaterThan(50, $looked);
        self::assertSame([], $this->lying());
    }

    public function testErasingItLeavesNoName(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->copy($this->giving->data('otterpost'), 'of somebody');
        $made = $this->imported(['path' => 'of somebody']);
        self::assertSame('of somebody', $this->newest()['name']);
        $number = $this->backup($made)->tray->number;
        self::assertSame('nothing_to_bring_anew', $this->refusal('POST', "/api/trays/$number/reopen", []));
        $this->call('POST', "/api/backups/$made/erase", ['number' => (string) $number], 202);
        self::getContainer()->get(Erasing::class)->doBackup($made);
        self::assertSame('', $this->newest()['name']);
        self::assertSame([], array_filter(self::getContainer()->get(Vault::class)->places($made), is_dir(...)));
    }

    /** @return int messages that are on a phone */
    private static function reading(PhoneFolder $phone, string $store): int
    {
        $data = $phone->data('otterpost');
        (new ReadingHere())->read($data, new FolderFiles($data), $store, new NoProgress());

        return (new ChatStore($store))->summary()['messages'];
    }

    /** @return int number of the tray in which all of a kept backup arrived */
    private function broughtOntoAPhone(string $id): int
    {
        $n = $this->call('POST', '/api/trays', self::WHOM + [
            'errand' => 'bring_kept', 'backups' => [$id], 'receiving' => Phones::RECEIVING,
        ], 201)['number'];
        self::assertIsInt($n);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-A"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'), (string) json_encode($this->move($n)));

        return $n;
    }

    /** @return array{int, string} number of its tray, and the id of the backup */
    private function backedUp(): array
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);

        return [$n, $this->text($this->call('GET', "/api/trays/$n"), 'moves', 0, 'backup', 'id')];
    }

    /** @return array<mixed> what is found there */
    private function onStick(): array
    {
        return (array) $this->call('GET', '/api/imports/sticks/blue')['found'];
    }

    /**
     * @param array<string, mixed> $other
     *
     * @return array<string, mixed>
     */
    private function wish(array $other = []): array
    {
        return array_filter($other + ['stick' => 'blue'] + self::WHOM, static fn (mixed $one): bool => null !== $one);
    }

    /** @return array<array-key, mixed> */
    private function newest(): array
    {
        $one = $this->value($this->call('GET', '/api/imports'), 'imports', 0);
        self::assertIsArray($one);

        return $one;
    }

    /**
     * @param array<string, mixed> $wish
     *
     * @return string id of the backup
     */
    private function imported(array $wish): string
    {
        $this->call('POST', '/api/imports', $this->wish($wish), 202);
        $this->work();
        $one = $this->newest();
        self::assertNotNull($one['made'], (string) json_encode($one, \JSON_UNESCAPED_UNICODE));

        return $this->text($one, 'made', 'backup');
    }

    /**
     * @param array<string, mixed> $wish
     *
     * @return string why it failed
     */
    private function failed(array $wish): string
    {
        $this->call('POST', '/api/imports', $this->wish($wish), 202);
        $this->work();
        $run = $this->entities()->find(Run::class, $this->text($this->newest(), 'id'));
        self::assertSame(RunState::Failed, $run?->state());

        return (string) $run->trouble();
    }

    /** @return array{int, mixed} status, and bytes that have come */
    private function send(string $at, int $offset, string $piece, string $type = 'application/octet-stream'): array
    {
        $this->browser->request('PATCH', $at, [], [], [
            'CONTENT_TYPE' => $type, 'CONTENT_LENGTH' => (string) strlen($piece),
            'HTTP_UPLOAD_OFFSET' => (string) $offset, 'HTTP_X_GESCHENK_TOKEN' => $this->token,
        ], $piece);
        $response = $this->browser->getResponse();
        $told = json_decode((string) $response->getContent(), true);

        return [$response->getStatusCode(), is_array($told) ? $told['there'] ?? null : null];
    }

    private function copy(string $folder, string $to): void
    {
        $target = $this->stick->folder().'/'.$to;
        Folder::make(dirname($target));
        exec(sprintf('cp -a %s %s', escapeshellarg($folder), escapeshellarg($target)), $lines, $status);
        self::assertSame(0, $status);
    }

    /** @return string folder of a bag that lies open on the stick, with all of a backup */
    private function bagOnStick(string $id): string
    {
        $bag = $this->stick->folder().'/bag';
        $open = $this->open($id);
        Folder::make($bag.'/data/raw');
        $open->chats()->copyTo($bag.'/data/chats.sqlite');
        foreach ($open->raw()->paths() as $path) {
            Folder::make(dirname($bag.'/data/raw/'.$path));
            Folder::putStream(
                $open->raw()->open($path) ?? throw new \LogicException('It is there.'), $bag.'/data/raw/'.$path,
            );
        }
        $this->packAnew($bag);

        return $bag;
    }

    private function packAnew(string $bag): void
    {
        Bag::pack($bag, ['Bag-Software-Agent' => 'Somebody'], static fn (string $path): ?string => null,
            static fn (int $bytes) => null);
    }

    private function open(string $id): OpenBackup
    {
        return self::getContainer()->get(Vault::class)->open($id);
    }

    private function backup(string $id): Backup
    {
        return $this->entities()->find(Backup::class, $id) ?? throw new \LogicException('It is there.');
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }

    /** @return list<string> ids of what lies open here */
    private function lying(): array
    {
        $container = self::getContainer();

        return [...$container->get(ImportPlaces::class)->ids(), ...$container->get(UploadPlaces::class)->ids()];
    }

    private function attachments(string $id, string $condition): int
    {
        $path = $this->path('count-'.bin2hex(random_bytes(4)).'.sqlite');
        $this->open($id)->chats()->copyTo($path);

        return (int) (new \SQLite3($path))->querySingle("SELECT COUNT(*) FROM attachment WHERE $condition");
    }

    /** That two backups hold the same chats, row by row, and the same files. */
    private function expectSame(string $one, string $other): void
    {
        $paths = [];
        foreach ([$one, $other] as $id) {
            $paths[] = $path = $this->path('same-'.bin2hex(random_bytes(4)).'.sqlite');
            $this->open($id)->chats()->copyTo($path);
        }
        foreach (array_diff(['attachment', ...array_keys(StoreSchema::TABLES)], self::TOLD_ANEW) as $table) {
            [$a, $b] = array_map(static fn (string $path): array => self::rows($path, $table), $paths);
            self::assertSame($a, $b, $table);
        }
        $files = $this->open($other)->files();
        foreach ((new Database(new \SQLite3($paths[0])))->few(
            "SELECT path, media_type, sha256 FROM attachment WHERE presence = 'present'", [],
        ) as $row) {
            $there = $files->look($row->text('path'), $row->text('media_type'));
            self::assertSame($row->text('sha256'), $there['sha256']);
        }
    }

    /** @return list<array<mixed>> */
    private static function rows(string $path, string $table): array
    {
        $found = (new \SQLite3($path))->query("SELECT * FROM $table ORDER BY 1, 2");
        $rows = [];
        while (false !== $found && false !== ($row = $found->fetchArray(\SQLITE3_ASSOC))) {
            unset($row['attachment_id']);
            $rows[] = $row;
        }

        return $rows;
    }
}
