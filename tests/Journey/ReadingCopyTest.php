<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Work\ReadingCopy\CopyPlaces;
use Geschenk\App\Work\ReadingCopy\LeftCopies;
use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\ReadingCopy\CopyFolder;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\Lines\LinesReader;
use Geschenk\Core\Store\StoreSchema;
use Geschenk\Standin\Stick\FolderStick;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use Sabre\VObject\Component\VCard;
use Sabre\VObject\Splitter\VCard as Cards;
use Symfony\Component\Process\Process;

/** A copy of a backup goes home on a stick: all of it, in each form, and read there by strangers' tools. */
final class ReadingCopyTest extends ApiTestCase
{
    use Scratch;

    private const FORMS = ['pages', 'files', 'table', 'spreadsheet', 'cards', 'lines'];
    private const PASSWORD = 'four loaves and a Möwe';

    private FolderStick $stick;

    protected function setUp(): void
    {
        parent::setUp();
        $this->stick = FolderStick::make($this->drawer().'/blue', 'Blue', 900_000_000, true);
    }

    public function testAllOfItLiesOnTheStickInEachForm(): void
    {
        [, $id] = $this->backedUp();
        $sums = $this->call('POST', "/api/backups/$id/copies/sum", ['forms' => self::FORMS]);
        $made = $this->taken($id, ['forms' => self::FORMS]);
        self::assertSame(['Blue', 'folder', false, true], [
            $made['stick'], $made['packing'], $made['is_locked'], $made['is_all'],
        ]);
        $copy = $this->stick->folder().'/'.$this->text($made, 'name');
        $this->expectSums($copy, $this->text($made, 'sha256'));
        $backup = self::getContainer()->get(Vault::class)->open($id);
        $summary = $backup->chats()->summary();
        self::assertSame([$summary['messages'], $summary['conversations']], [
            $sums['messages'], $sums['conversations'],
        ]);
        self::assertIsInt($sums['files']);
        self::assertGreaterThanOrEqual($summary['attachments_present'], $sums['files'], 'Empty ones are files too.');
        self::assertCount($sums['files'], iterator_to_array(Folder::files($copy, 'files'), false));

        // What was written is what was kept, field by field.
        LinesReader::read($copy.'/chats.jsonl', $this->path('again.sqlite'));
        $there = $this->path('there.sqlite');
        $backup->chats()->copyTo($there);
        foreach (array_keys(StoreSchema::TABLES) as $table) {
            self::assertSame(self::rows($there, $table), self::rows($this->path('again.sqlite'), $table), $table);
        }
        $rows = self::table($copy.'/messages.csv');
        self::assertCount($summary['messages'] + 1, $rows);
        $spoken = array_map(static fn (array $row): string => self::spoken($row), $rows);
        self::assertSame($spoken, self::spreadsheet($copy.'/messages.ods'));
        self::assertGreaterThan(10, self::validCards($copy.'/people.vcf'));
        $this->expectPagesWhole($copy, $summary['messages']);
        self::assertSame([], $this->lying(), 'Nothing of it stays here.');

        $this->signIn('orla');
        $log = (string) json_encode($this->call('GET', '/api/log'), \JSON_UNESCAPED_UNICODE);
        self::assertStringContainsString('Has all of Otterpost taken for reading, on the stick “Blue”', $log);
        self::assertStringContainsString('Taken for reading, from Otterpost', $log);
    }

    public function testTheSameOnceMoreIsTheSameBytesAndAnotherLiesBesideIt(): void
    {
        [, $id] = $this->backedUp();
        $first = $this->taken($id, ['forms' => self::FORMS]);
        $second = $this->taken($id, ['forms' => self::FORMS]);
        self::assertSame($first['sha256'], $second['sha256']);
        self::assertSame($first['name'], $second['name'], 'What is there already is not put there twice.');
        $third = $this->taken($id, ['forms' => ['table']]);
        self::assertSame($this->text($first, 'name').'_2', $third['name']);
        self::assertCount(3, (array) $this->call('GET', "/api/backups/$id/copies")['copies']);
        $this->expectSums($this->stick->folder().'/'.$this->text($first, 'name'), $this->text($first, 'sha256'));
    }

    public function testAPartOfItHoldsNothingOfTheRest(): void
    {
        [, $id] = $this->backedUp();
        $conversations = $this->call('GET', "/api/backups/$id/conversations")['conversations'];
        self::assertIsArray($conversations);
        $one = null;
        foreach ($conversations as $conversation) {
            self::assertIsArray($conversation);
            $one ??= $conversation['attachments'] > 2 ? $conversation['id'] : null;
        }
        self::assertIsInt($one);
        $asked = ['forms' => self::FORMS, 'conversations' => [$one], 'groups' => ['photos'], 'text' => false];
        $sum = $this->call('POST', "/api/backups/$id/copies/sum", $asked);
        $made = $this->taken($id, $asked);
        self::assertFalse($made['is_all']);
        $copy = $this->stick->folder().'/'.$this->text($made, 'name');
        $kinds = [];
        foreach (file($copy.'/chats.jsonl', \FILE_IGNORE_NEW_LINES) ?: [] as $line) {
            /** @var array<string, array{kind?: string}> $told */
            $told = json_decode($line, true);
            foreach ($told as $what => $fields) {
                $kinds[$what][] = $fields['kind'] ?? '';
            }
        }
        self::assertSame([], array_diff($kinds['message'] ?? [], ['photo', 'animation']));
        self::assertCount(1, $kinds['conversation'] ?? []);
        self::assertIsInt($sum['messages']);
        self::assertIsInt($sum['files']);
        self::assertCount($sum['messages'], $kinds['message'] ?? []);
        self::assertArrayNotHasKey('content_key', $kinds);
        self::assertSame(['photos'], array_map(basename(...), glob($copy.'/files/*') ?: []));
        self::assertCount($sum['files'], glob($copy.'/files/photos/*') ?: []);
        self::assertSame(
            0, $this->call('POST', "/api/backups/$id/copies/sum", ['from' => '2099-01-01'] + $asked)['messages'],
        );
        self::assertSame('no_day', $this->refusal('POST', "/api/backups/$id/copies/sum", ['from' => '31.2.']));
    }

    public function testUnderAPasswordItIsOneFileThatNothingOpensWithoutIt(): void
    {
        [, $id] = $this->backedUp();
        $made = $this->taken($id, ['forms' => self::FORMS, 'packing' => 'zip', 'password' => self::PASSWORD]);
        $name = $this->text($made, 'name');
        self::assertStringEndsWith('.zip', $name);
        $file = $this->stick->folder().'/'.$name;
        $chats = self::getContainer()->get(Vault::class)->open($id)->chats();
        foreach ($chats->people() as $person) {
            self::assertStringNotContainsString((string) $person->number, (string) file_get_contents($file));
        }
        $run = $this->entities()->find(Run::class, $this->text($made, 'id'));
        self::assertNull($run?->lockedKey(), 'The password is gone with its run.');
        self::assertNotSame(0, $this->run7z($file, 'another password'));
        self::assertSame(0, $this->run7z($file, self::PASSWORD));
        $this->expectSums($this->path('opened'), $this->text($made, 'sha256'));
        self::assertSame('packing_locks_nothing', $this->refusal(
            'POST', "/api/backups/$id/copies", $this->wish(['password' => self::PASSWORD]),
        ));
    }

    public function testOneFileThatIsOpenIsTheSameBytesTooHoweverOftenItIsMade(): void
    {
        [, $id] = $this->backedUp();
        $first = $this->taken($id, ['forms' => self::FORMS, 'packing' => 'zip']);
        $hash = hash_file('sha256', $this->stick->folder().'/'.$this->text($first, 'name'));
        unlink($this->stick->folder().'/'.$this->text($first, 'name'));
        $second = $this->taken($id, ['forms' => self::FORMS, 'packing' => 'zip']);
        self::assertSame($hash, hash_file('sha256', $this->stick->folder().'/'.$this->text($second, 'name')));
    }

    public function testAsABagItIsOne(): void
    {
        [, $id] = $this->backedUp();
        $made = $this->taken($id, ['forms' => ['table'], 'packing' => 'bag']);
        $bag = $this->stick->folder().'/'.$this->text($made, 'name');
        Bag::validate($bag);
        self::assertSame($id, Bag::info($bag)['External-Identifier']);
        $this->expectSums($bag.'/data', $this->text($made, 'sha256'));
    }

    /** @return iterable<string, array{string}> */
    public static function packings(): iterable
    {
        yield 'many files' => ['folder'];
        yield 'one file' => ['zip'];
    }

    #[DataProvider('packings')]
    public function testAStickThatIsPulledOutInTheMiddleIsGoneOnWith(string $packing): void
    {
        [, $id] = $this->backedUp();
        $this->stick->pullAfter(40_000);
        $wish = $this->wish(['forms' => self::FORMS, 'packing' => $packing]);
        $this->call('POST', "/api/backups/$id/copies", $wish, 202);
        $this->work();
        $one = $this->newest($id);
        self::assertSame('waiting', $this->value($one, 'run', 'state'));
        self::assertStringContainsString('“Blue” is not in', $this->text($one, 'run', 'trouble'));
        self::assertSame([], $this->call('GET', "/api/backups/$id/copies")['sticks']);
        // Nothing of the name lies there before all of it does.
        $there = glob($this->drawer().'/blue/out/*') ?: [];
        self::assertCount(1, $there);
        self::assertStringEndsWith('.part', $there[0]);
        $this->work();
        self::assertSame('waiting', $this->value($this->newest($id), 'run', 'state'));
        $this->stick->plug();
        $this->watch();
        $this->work();
        $made = $this->newest($id);
        self::assertNotNull($made['made_at'] ?? null);
        $there = array_map(basename(...), glob($this->stick->folder().'/*') ?: []);
        self::assertSame([$this->text($made, 'name')], $there);
        if ('folder' === $packing) {
            $this->expectSums($this->stick->folder().'/'.$this->text($made, 'name'), $this->text($made, 'sha256'));
        }
    }

    public function testWhatWaitsForItsStickLiesInMemoryAndIsMadeAnewWhereThatIsGone(): void
    {
        [, $id] = $this->backedUp();
        $this->stick->pullAfter(40_000);
        $this->call('POST', "/api/backups/$id/copies", $this->wish(['forms' => self::FORMS]), 202);
        $this->work();
        $run = $this->text($this->newest($id), 'run', 'id');
        $places = self::getContainer()->get(CopyPlaces::class);
        $place = $places->find($run) ?? self::fail('Nothing waits.');
        self::assertTrue($places->isInMemory($place));
        $data = self::getContainer()->get(DataFolder::class);
        self::assertDirectoryDoesNotExist($data->readingCopies(), 'Nothing of it is on the disk.');
        // The power went.
        Folder::remove(dirname($place));
        self::assertNull($places->find($run));
        $this->stick->plug();
        $this->watch();
        $this->work();
        $made = $this->newest($id);
        $this->expectSums($this->stick->folder().'/'.$this->text($made, 'name'), $this->text($made, 'sha256'));
        self::assertSame([], $this->lying());
    }

    public function testWhatIsTooLargeForMemoryOrMeetsSomebodyElsesFolderThereIsMadeInTheDataFolder(): void
    {
        $data = self::getContainer()->get(DataFolder::class);
        $memory = Folder::make($this->path('memory'));
        $places = new CopyPlaces($data, $memory);
        $small = $places->of('small', 1_000_000);
        self::assertTrue($places->isInMemory($small));
        $large = $places->of('large', 600_000_000);
        self::assertSame([$data->readingCopies().'/large', false], [$large, $places->isInMemory($large)]);
        self::assertSame($small, $places->of('small', 600_000_000), 'Where it was begun it goes on.');
        self::assertEqualsCanonicalizing(['small', 'large'], $places->ids());
        // Open to others: whoever made it is not us.
        chmod(dirname($small), 0o755);
        self::assertNull($places->find('small'));
        self::assertFalse($places->isInMemory($places->of('small', 1_000_000)));
        $places->discard('small');
        $places->discard('large');
        self::assertSame([], $places->ids());
        self::assertDirectoryExists($small, 'Theirs is left alone.');
    }

    public function testWhereThereIsTooLittleRoomItIsSaidAndWhoeverCancelsLeavesNothing(): void
    {
        [, $id] = $this->backedUp();
        FolderStick::make($this->drawer().'/small', 'Small', 60_000, true);
        $this->call('POST', "/api/backups/$id/copies", $this->wish(['stick' => 'small']), 202);
        $this->work();
        $one = $this->newest($id);
        self::assertSame('waiting', $this->value($one, 'run', 'state'));
        self::assertStringContainsString('too little room on the stick “Small”', $this->text($one, 'run', 'trouble'));
        $run = $this->text($one, 'run', 'id');
        $this->call('POST', "/api/backups/$id/runs/$run/cancel", null, 202);
        $this->work();
        self::assertSame([[], []], [glob($this->drawer().'/small/in/*'), $this->lying()]);
        self::assertSame('cancelled', $this->value($this->newest($id), 'run', 'state'));
        // What is anybody's own on it is as it was.
        self::assertNull($this->newest($id)['made_at']);
    }

    public function testTwoWhoWantDifferentThingsAreNotGivenOneForTheOther(): void
    {
        [, $id] = $this->backedUp();
        $this->call('POST', "/api/backups/$id/copies", $this->wish(['forms' => ['cards']]), 202);
        $other = $this->wish(['forms' => ['table']]);
        self::assertSame('busy', $this->refusal('POST', "/api/backups/$id/copies", $other));
        $this->work();
        self::assertSame(['cards'], $this->newest($id)['forms']);
        self::assertCount(1, (array) $this->call('GET', "/api/backups/$id/copies")['copies']);
    }

    public function testWhatAnotherRunHasFollowedLeavesNothingOpenBehindIt(): void
    {
        [, $id] = $this->backedUp();
        $this->stick->pullAfter(40_000);
        $this->call('POST', "/api/backups/$id/copies", $this->wish(['forms' => self::FORMS]), 202);
        $this->work();
        $run = $this->text($this->newest($id), 'run', 'id');
        $this->call('POST', "/api/backups/$id/runs/$run/pause", null, 202);
        $left = self::getContainer()->get(LeftCopies::class);
        $left->sweep();
        self::assertCount(1, $this->lying(), 'It can go on.');
        // Read back meanwhile: that one is the backup's newest now.
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        $this->work();
        $this->entities()->clear();
        self::assertSame(RunState::Cancelled, $this->entities()->find(Run::class, $run)?->state());
        $left->sweep();
        self::assertSame([], $this->lying());
    }

    public function testAWorkerThatWasKilledIsFollowedByOneThatGoesOn(): void
    {
        [, $id] = $this->backedUp();
        $this->call('POST', "/api/backups/$id/copies", $this->wish(['forms' => self::FORMS]), 202);
        $run = $this->entities()->find(Backup::class, $id)?->run() ?? self::fail('Nothing was asked for.');
        $run->begin();
        $this->entities()->flush();
        // It was killed when all of it was on the stick and nobody had said so yet.
        $this->work();
        $made = $this->newest($id);
        $name = $this->text($made, 'name');
        $this->entities()->clear();
        $this->entities()->getConnection()->executeStatement(
            "UPDATE reading_copy SET name = NULL, made_at = NULL, made = NULL; UPDATE run SET state = 'working' "
                ."WHERE kind = 'reading_copy'",
        );
        $this->watch();
        $this->work();
        self::assertSame($name, $this->newest($id)['name'], 'It is known again, and lies there once.');
        self::assertCount(1, glob($this->stick->folder().'/*') ?: []);
    }

    public function testBehindTheHandOverItIsTheManagersWhoSaysWhy(): void
    {
        [$n, $id] = $this->backedUp();
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);
        $this->call('POST', "/api/backups/$id/copies", $this->wish(), 403);
        self::assertTrue($this->call('GET', "/api/backups/$id/copies")['needs_manager']);
        $this->signIn('orla');
        self::assertSame('reason_needed', $this->refusal('POST', "/api/backups/$id/copies", $this->wish()));
        $this->call('POST', "/api/backups/$id/copies", $this->wish(['reason' => 'asked for by letter']), 202);
        $this->work();
        $log = (string) json_encode($this->call('GET', '/api/log'), \JSON_UNESCAPED_UNICODE);
        self::assertStringContainsString('Takes Otterpost of a closed tray for reading: asked for by letter', $log);
        // Whoever erases ends what is under way; that it left the shop stays.
        $this->call('POST', "/api/backups/$id/copies", $this->wish(['reason' => 'once more']), 202);
        $this->call('POST', "/api/backups/$id/erase", ['number' => "$n"], 202);
        $this->work();
        self::assertSame(RunState::Cancelled, $this->entities()->find(Backup::class, $id)?->run()?->state());
        $this->call('GET', "/api/backups/$id/copies", null, 404);
    }

    public function testAFileThatTheShopsDiskHasSpoiltCostsItselfAndIsListed(): void
    {
        [, $id] = $this->backedUp();
        $store = self::getContainer()->get(Vault::class)->open($id)->chats()->connect();
        $path = $store->one("SELECT path FROM attachment WHERE presence = 'present' LIMIT 1")?->text('path') ?? '';
        $times = (int) $store->one('SELECT COUNT(*) AS n FROM attachment WHERE path = ?', [$path])?->int('n');
        $store->close();
        $file = $this->lies($id, 'data/raw/'.$path);
        file_put_contents($file, strrev((string) file_get_contents($file)));
        $whole = null;
        foreach (['changed', 'gone'] as $how) {
            'gone' === $how ? unlink($file) : self::assertFileExists($file);
            $this->call('POST', "/api/backups/$id/copies", $this->wish(['forms' => ['pages', 'table']]), 202);
            $this->work();
            $one = $this->newest($id);
            // As often as it was sent.
            self::assertSame([$times, true], [$one['spoilt'], null !== $one['made_at']], $how.json_encode($one));
            $copy = $this->stick->folder().'/'.$this->text($one, 'name');
            $list = explode("\n", (string) file_get_contents($copy.'/Files that are missing.txt'));
            self::assertStringStartsWith($times > 1 ? "$times files are not" : '1 file is not', $list[0]);
            self::assertCount($times + 3, $list);
            $named = $list[2] ?? '';
            self::assertStringStartsWith('files/', $named);
            self::assertFileDoesNotExist($copy.'/'.$named);
            $sums = (string) file_get_contents($copy.'/'.CopyFolder::SUMS);
            self::assertStringNotContainsString($named, $sums);
            self::assertStringContainsString('Files that are missing.txt', $sums);
            $pages = implode('', array_map(file_get_contents(...), glob($copy.'/pages/*.html') ?: []));
            $table = (string) file_get_contents(glob($copy.'/*.csv')[0] ?? '');
            foreach ([$pages, $table] as $text) {
                self::assertStringContainsString('spoilt on the shop’s disk', $text);
                self::assertStringNotContainsString(rawurlencode(basename($named)), $text);
            }
            $whole ??= $one['files'];
            self::assertSame($whole, $one['files']);
        }
        $backup = $this->entities()->find(Backup::class, $id);
        self::assertSame('backup_broken', $backup?->trouble(), 'It is known to be broken from then on, and calls.');
        $this->signIn('orla');
        self::assertStringContainsString("lacks $times file", (string) json_encode($this->call('GET', '/api/log')));
    }

    public function testWhatIsNoneIsRefused(): void
    {
        [, $id] = $this->backedUp();
        foreach ([
            'no_such_form' => ['forms' => []], 'no_such_packing' => ['packing' => 'barrel'],
            'no_such_stick' => ['stick' => '../blue'], 'no_such_group' => ['groups' => ['songs']],
        ] as $reason => $wish) {
            self::assertSame($reason, $this->refusal('POST', "/api/backups/$id/copies", $this->wish($wish)));
        }
        $this->stick->pull();
        self::assertSame('no_such_stick', $this->refusal('POST', "/api/backups/$id/copies", $this->wish()));
        self::assertSame([], $this->call('GET', "/api/backups/$id/copies")['copies']);
    }

    /** @return array{int, string} number of its open tray, and the id of the backup */
    private function backedUp(): array
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);

        return [$n, $this->text($this->call('GET', "/api/trays/$n"), 'moves', 0, 'backup', 'id')];
    }

    /**
     * @param array<string, mixed> $other
     *
     * @return array<string, mixed>
     */
    private function wish(array $other = []): array
    {
        return $other + ['forms' => ['pages'], 'packing' => 'folder', 'stick' => 'blue', 'language' => 'en'];
    }

    /**
     * @param array<string, mixed> $wish
     *
     * @return array<array-key, mixed> as it is listed
     */
    private function taken(string $id, array $wish): array
    {
        $this->call('POST', "/api/backups/$id/copies", $this->wish($wish), 202);
        $this->work();
        $one = $this->newest($id);
        self::assertNotNull($one['made_at'] ?? null, (string) json_encode($one));

        return $one;
    }

    /** @return array<array-key, mixed> */
    private function newest(string $id): array
    {
        $one = $this->value($this->call('GET', "/api/backups/$id/copies"), 'copies', 0);
        self::assertIsArray($one);

        return $one;
    }

    /** @return list<string> runs of which something lies here of copies that are being made */
    private function lying(): array
    {
        return self::getContainer()->get(CopyPlaces::class)->ids();
    }

    private function drawer(): string
    {
        return self::getContainer()->get(DataFolder::class)->path.'/standin/sticks';
    }

    /** As anybody does who has got it: with the tool that each system has for it. */
    private function expectSums(string $copy, string $hash): void
    {
        self::assertSame($hash, hash_file('sha256', $copy.'/SHA256SUMS'));
        $check = new Process(['sha256sum', '--check', '--strict', '--quiet', 'SHA256SUMS'], $copy);
        $check->mustRun();
        self::assertSame('', $check->getOutput());
        $listed = count(file($copy.'/SHA256SUMS') ?: []);
        self::assertSame($listed + 1, iterator_count(Folder::files($copy)), 'None that is not listed.');
    }

    private function run7z(string $file, string $password): int
    {
        $open = new Process(['7z', 'x', '-y', '-p'.$password, '-o'.$this->path('opened'), $file]);

        return $open->run();
    }

    private function expectPagesWhole(string $copy, int $messages): void
    {
        $index = new \DOMDocument();
        self::assertTrue($index->loadHTML((string) file_get_contents($copy.'/index.html'), \LIBXML_NOERROR));
        $seen = 0;
        foreach (glob($copy.'/pages/*.html') ?: [] as $file) {
            $page = new \DOMDocument();
            $html = (string) file_get_contents($file);
            self::assertTrue($page->loadHTML($html, \LIBXML_NOERROR));
            $seen += $page->getElementsByTagName('article')->length;
            self::assertSame(0, $page->getElementsByTagName('script')->length);
            foreach (['a' => 'href', 'img' => 'src', 'video' => 'src', 'audio' => 'src'] as $tag => $attribute) {
                foreach ($page->getElementsByTagName($tag) as $element) {
                    $path = rawurldecode($element->getAttribute($attribute));
                    self::assertFileExists(dirname($file).'/'.$path, basename($file));
                }
            }
        }
        self::assertSame($messages, $seen);
        self::assertStringNotContainsString('://', (string) file_get_contents($copy.'/index.html'));
    }

    /** @return list<array<array-key, mixed>> */
    private static function rows(string $store, string $table): array
    {
        $database = Database::openReadOnly($store);
        $rows = [];
        foreach ($database->lists("SELECT * FROM $table") as $row) {
            $rows[] = $row;
        }
        $database->close();

        return $rows;
    }

    /** @return list<list<string|null>> */
    private static function table(string $file): array
    {
        $stream = fopen($file, 'r') ?: self::fail('It is not there.');
        self::assertSame("\u{FEFF}", fread($stream, 3));
        $rows = [];
        while (false !== ($row = fgetcsv($stream, null, ',', '"', ''))) {
            self::assertCount(8, $row);
            foreach ($row as $field) {
                self::assertNotContains($field[0] ?? '', ['=', '+', '-', '@'], 'Spreadsheets run that.');
            }
            $rows[] = $row;
        }
        fclose($stream);

        return $rows;
    }

    /**
     * What a row says, whatever it is written in: times without a zone, no mark against being run, no line ends.
     *
     * @param list<string|null> $row
     */
    private static function spoken(array $row): string
    {
        $fields = array_map(static fn (?string $field): string => ltrim($field ?? '', "'"), $row);
        $fields[1] = preg_replace('/^(\d{4}-\d\d-\d\d)T(.{8}).*$/', '$1 $2', $fields[1] ?? '');

        return (string) preg_replace('/\s+/', ' ', implode('|', $fields));
    }

    /** @return list<string> what each row says, read by a reader of XML alone */
    private static function spreadsheet(string $file): array
    {
        $zip = new \ZipArchive();
        self::assertTrue($zip->open($file));
        self::assertSame(['mimetype', \ZipArchive::CM_STORE], [
            $zip->getNameIndex(0), $zip->statIndex(0)['comp_method'] ?? null,
        ]);
        $content = new \DOMDocument();
        $xml = (string) preg_replace('#<text:(tab|s text:c="\d+")/>#', ' ', (string) $zip->getFromName('content.xml'));
        self::assertTrue($content->loadXML($xml, \LIBXML_PARSEHUGE));
        $rows = [];
        foreach ($content->getElementsByTagName('table-row') as $row) {
            $fields = [];
            foreach ($row->getElementsByTagName('table-cell') as $cell) {
                $lines = [];
                foreach ($cell->getElementsByTagName('p') as $line) {
                    $lines[] = $line->textContent;
                }
                $fields[] = ltrim(implode("\n", $lines), "'");
            }
            $rows[] = (string) preg_replace('/\s+/', ' ', implode('|', $fields));
        }

        return $rows;
    }

    /** @return int how many there are, each one valid */
    private static function validCards(string $file): int
    {
        $count = 0;
        // The parser is older than this PHP, which says so of its classes.
        set_error_handler(static fn (): bool => true, \E_DEPRECATED);
        try {
            $cards = new Cards(fopen($file, 'r') ?: self::fail('There are none.'));
            for (; null !== ($card = $cards->getNext()); ++$count) {
                self::assertInstanceOf(VCard::class, $card);
                self::assertSame([], $card->validate());
            }
        } finally {
            restore_error_handler();
        }

        return $count;
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }
}
