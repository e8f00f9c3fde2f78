<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Work\Foreman;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Standin\Demo\Customer;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\EmptyMessenger;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;
use Symfony\Component\Messenger\Transport\InMemory\InMemoryTransport;

/** Accounts of a tray, each on its own way; and records that tell how far they are, whatever lies on the disk. */
final class MovesTest extends ApiTestCase
{
    private const COUNTER = 'otterpost.counter';

    public function testTwoAccountsOnOnePhoneGoEachTheirOwnWay(): void
    {
        $this->signIn();
        $n = $this->openWithTwoAccounts();
        self::assertSame(['Otterpost', 'Otterpost Counter'], array_column($this->moves($n), 'edition'));
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup'], 202);
        $this->call('POST', "/api/trays/$n/moves/2/runs", ['kind' => 'backup'], 202);
        $this->work();
        [$ordinary, $counter] = $this->moves($n);
        self::assertNotSame($this->value($ordinary, 'backup', 'id'), $this->value($counter, 'backup', 'id'));
        self::assertSame(
            ['+447700900700', '+447700900701'],
            [$this->value($ordinary, 'backup', 'account'), $this->value($counter, 'backup', 'account')],
        );
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame(['hand_over', 'choose'], array_column($this->moves($n), 'stage'));
        $tray = $this->call('GET', "/api/trays/$n");
        self::assertSame(['choose', 2], [$tray['stage'], $this->value($tray, 'waits', 'move')]);
        $refused = $this->text($this->call('POST', "/api/trays/$n/hand-over", [], 422), 'detail');
        self::assertStringContainsString(
            'Otterpost Counter is not checked yet', str_replace('was not', 'is not', $refused),
        );

        $this->askAndWork($n, ['kind' => 'conversion'], 2);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"], 2);
        $arrival = [1 => [], 2 => []];
        foreach ([1, 2] as $place) {
            $arrival[$place] = $this->call('GET', "/api/trays/$n/moves/$place/arrival");
            self::assertTrue($this->value($arrival[$place], 'totals', 'complete'));
        }
        self::assertNotSame($arrival[1]['conversations'], $arrival[2]['conversations']);
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString('Otterpost, +44 7700 900700', $sheet);
        self::assertStringContainsString('Otterpost Counter, +44 7700 900701', $sheet);
        $this->handOver($n);
        $steps = (array) $this->call('GET', "/api/trays/$n")['steps'];
        $of = static function (?int $move) use ($steps): array {
            $stages = [];
            foreach ($steps as $step) {
                if (is_array($step) && $move === $step['move'] && is_string($step['stage'])) {
                    $stages[$step['stage']] = $step['stage'];
                }
            }

            return array_values($stages);
        };
        self::assertSame(['intake', 'ready', 'hand_over'], $of(null));
        self::assertSame(['back_up', 'choose', 'convert', 'restore', 'check'], $of(1));
        self::assertSame($of(1), $of(2));
    }

    public function testWhoeverPressesLateBeginsNothingTwice(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $runs = "/api/trays/$n/moves/1/runs?after=";
        $after = 'none';
        foreach ([['backup'], ['conversion'], ['restore', "$n-B"], ['check'], ['put_back', "$n-B"]] as $asked) {
            $order = ['kind' => $asked[0], 'confirmed_tag' => $asked[1] ?? ''];
            $this->call('POST', $runs.$after, $order, 202);
            $this->work();
            self::assertSame('meanwhile', $this->refusal('POST', $runs.$after, $order), $asked[0]);
            self::assertSame('done', $this->value($this->moves($n)[0], 'run', 'state'), $asked[0]);
            self::assertSame('meanwhile', $this->refusal(
                'POST', "/api/trays/$n/moves/1/missing?after=$after", null,
            ));
            self::assertSame('meanwhile', $this->refusal(
                'PUT', "/api/trays/$n/moves/1/choices/broadcast_list?after=$after", ['choice' => 'left_out'],
            ));
            $after = $this->text($this->moves($n)[0], 'run', 'id');
        }
    }

    public function testPutBackTheNamesThatTheOtherAccountShowsStayAndGoWithThatOne(): void
    {
        $this->signIn();
        $n = $this->openWithTwoAccounts();
        $book = $this->receiving->data('contacts').'/contacts.vcf';
        $before = "BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Somebody Else\r\nTEL:+12025550199\r\nEND:VCARD\r\n";
        file_put_contents($book, $before);
        foreach ([1, 2] as $place) {
            $this->askAndWork($n, ['kind' => 'backup'], $place);
            $this->call('PUT', "/api/trays/$n/moves/$place/scope", ['names' => true]);
            $this->askAndWork($n, ['kind' => 'conversion'], $place);
            $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"], $place);
        }
        $both = (string) file_get_contents($book);
        $shown = [];
        foreach ([1, 2] as $place) {
            $shown[$place] = $this->value($this->call('GET', "/api/trays/$n/moves/$place/scope"), 'named');
        }
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        $other = (string) file_get_contents($book);
        self::assertStringStartsWith($before, $other);
        $count = static fn (string $book): int => substr_count($book, 'BEGIN:VCARD');
        self::assertGreaterThan($count($before), $count($other));
        self::assertLessThan($count($both), $count($other));
        self::assertSame($shown[2], $count($other) - $count($before), 'All whom the other shows are there.');
        $tray = (string) json_encode($this->call('GET', "/api/trays/$n"));
        self::assertStringContainsString('another account shows', $tray);
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"], 2);
        self::assertSame($before, file_get_contents($book));
    }

    public function testASpoiltBackupOfTheOtherAccountHoldsUpNoWayBackAndCostsItNoNames(): void
    {
        $this->signIn();
        $n = $this->openWithTwoAccounts();
        $before = self::contents($this->receiving->data('otterpost'));
        foreach ([1, 2] as $place) {
            $this->askAndWork($n, ['kind' => 'backup'], $place);
            $this->call('PUT', "/api/trays/$n/moves/$place/scope", ['names' => true]);
            $this->askAndWork($n, ['kind' => 'conversion'], $place);
            $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"], $place);
        }
        $book = $this->receiving->data('contacts').'/contacts.vcf';
        $names = (string) file_get_contents($book);
        self::assertStringContainsString('BEGIN:VCARD', $names);
        $other = $this->text($this->moves($n)[1], 'backup', 'id');
        file_put_contents($this->lies($other, 'data/chats.sqlite'), 'spoilt');
        self::getContainer()->get(OpenCopies::class)->sweep(0);
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame('done', $this->value($this->moves($n)[0], 'run', 'state'));
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        self::assertSame($names, file_get_contents($book), 'Whom the other shows can not be told.');
        self::assertStringContainsString(
            'The names that were added stay', (string) json_encode($this->call('GET', "/api/trays/$n")['steps']),
        );
    }

    public function testAnAccountCanBeLeftOutAndTakenIn(): void
    {
        $this->signIn();
        $n = $this->openWithTwoAccounts();
        $this->call('PUT', "/api/trays/$n/moves/2", ['left_out' => true]);
        $this->call('POST', "/api/trays/$n/moves/2/runs", ['kind' => 'backup'], 422);
        self::assertSame('last_move', $this->refusal('PUT', "/api/trays/$n/moves/1", ['left_out' => true]));
        $may = array_map(static fn (array $move): string => (string) json_encode($move['may']), $this->moves($n));
        $mayTakeIn = static fn (string $acts): bool => str_contains($acts, 'take_in');
        self::assertSame([false, true], array_map($mayTakeIn, $may));
        self::assertStringNotContainsString('leave_out', implode('', $may));
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame('hand_over', $this->call('GET', "/api/trays/$n")['stage']);
        $this->call('PUT', "/api/trays/$n/moves/2", ['left_out' => false]);
        self::assertSame('back_up', $this->call('GET', "/api/trays/$n")['stage']);
        self::assertSame('move_under_way', $this->refusal('PUT', "/api/trays/$n/moves/1", ['left_out' => true]));
        $this->call('PUT', "/api/trays/$n/moves/7", ['left_out' => true], 404);
    }

    public function testAPhoneThatShowsItsAppsLaterHasItsAccountsTakenUpThen(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->giving->change(static fn (array $s): array => ['admitted' => false] + $s);
        $n = $this->open();
        self::assertSame([], $this->moves($n));
        $waits = $this->value($this->call('GET', "/api/trays/$n"), 'waits');
        self::assertIsArray($waits);
        self::assertSame(
            ['customer', "$n-A", 'This computer not allowed yet'], [$waits['who'], $waits['tag'], $waits['text']],
        );
        $this->giving->change(static fn (array $s): array => ['admitted' => true] + $s);
        $this->watch();
        self::assertSame(['Otterpost'], array_column($this->moves($n), 'edition'));
        self::assertSame('ready', $this->call('GET', "/api/trays/$n")['stage']);
    }

    public function testWhatAFileHasComeToTakesNoOtherPageDown(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $folder = self::getContainer()->get(DataFolder::class)->tray($n);
        foreach (Folder::files($folder) as $file) {
            file_put_contents("$folder/$file", 'spoilt');
        }
        self::getContainer()->get(OpenCopies::class)->sweep(0);
        self::assertSame('hand_over', $this->call('GET', "/api/trays/$n")['stage']);
        $this->assertNothingSaysWhereItLies($n);
        Folder::remove(self::getContainer()->get(DataFolder::class)->backups());
        foreach ([
            '/api/trays', "/api/trays/$n", "/api/trays/$n/readiness", "/api/trays/$n/moves/1/losses", '/api/phones',
        ] as $path) {
            $this->call('GET', $path);
        }
        Folder::remove($folder);
        self::assertTrue($this->value($this->moves($n), 0, 'arrival', 'complete'));
        self::assertSame('check_gone', $this->refusal('GET', "/api/trays/$n/moves/1/arrival", null, 404));
        // A phone's own state may be spoilt too.
        file_put_contents($this->giving->path.'/phone.json', '{');
        $live = $this->value($this->call('GET', "/api/trays/$n"), 'phones', 0, 'live');
        self::assertIsArray($live);
        self::assertFalse($live['on_bench']);
        self::assertNotSame('', $live['model'], 'What was seen last is still said.');
    }

    /** What is spoilt is said to be that, by each page that would show it and by each run that would use it. */
    private function assertNothingSaysWhereItLies(int $n): void
    {
        $data = self::getContainer()->get(DataFolder::class);
        $move = "/api/trays/$n/moves/1";
        self::assertSame('check_spoilt', $this->refusal('GET', "$move/arrival", null));
        self::assertSame('check_spoilt', $this->refusal('GET', "$move/arrival/1", null));
        $this->askAndWork($n, ['kind' => 'check']);
        $trouble = $this->text($this->moves($n), '0', 'run', 'trouble');
        self::assertStringContainsString('nothing of the phone', $trouble);
        foreach (Folder::files($data->backups()) as $file) {
            file_put_contents($data->backups().'/'.$file, 'spoilt');
        }
        self::getContainer()->get(OpenCopies::class)->sweep(0);
        self::assertSame('backup_spoilt', $this->refusal('GET', $this->backupPath($n).'/conversations', null));
        self::assertSame('backup_spoilt', $this->refusal('GET', "$move/scope", null));
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        $trouble = $this->text($this->moves($n), '0', 'run', 'trouble');
        self::assertStringContainsString('bagit.txt does not unseal', $trouble);
        self::assertStringNotContainsString($data->path, $trouble);
    }

    public function testNoPageReadsAPhone(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->look();
        $this->isWatched = false;
        Folder::remove(self::getContainer()->get(DataFolder::class)->phones());
        foreach (['/api/trays', "/api/trays/$n", "/api/trays/$n/readiness", '/api/phones'] as $path) {
            $this->call('GET', $path);
        }
        $holds = $this->value(
            $this->call('GET', "/api/trays/$n"), 'phones', 0, 'live', 'accounts', 0, 'holds', 'counts',
        );
        self::assertIsArray($holds);
        self::assertGreaterThan(50, $holds['messages']);
    }

    public function testOrderIsByCounterWhateverTheClockSays(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        // The first run seems to be of tomorrow: the clock was set back since.
        $connection = $this->entities()->getConnection();
        $connection->executeStatement(
            "UPDATE run SET asked_at = '2099-01-01 00:00:00', finished_at = '2099-01-01 00:00:01'",
        );
        $connection->executeStatement("UPDATE backup SET taken_at = '2099-01-01 00:00:00'");
        $this->entities()->clear();
        $this->askAndWork($n, ['kind' => 'backup']);
        $runs = $this->entities()->getRepository(Run::class)->findBy([], ['counter' => 'ASC']);
        self::assertCount(2, $runs);
        $move = $this->moves($n)[0] ?? [];
        self::assertSame($runs[1]->id, $this->value($move, 'run', 'id'));
        self::assertSame($runs[1]->id, $this->value($move, 'backup', 'id'));
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'conversion'], 202);
        self::assertSame('busy', $this->refusal('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup']));
    }

    public function testARunWhoseMessageIsLostOrPutOffIsHandedOutAgain(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup'], 202);
        // Its message is in no queue at all, or one that a clock set back puts off for an hour.
        $id = $this->text((array) ($this->moves($n)[0] ?? []), 'run', 'id');
        $this->entities()->getConnection()->insert('messenger_messages', [
            'body' => $id, 'headers' => '', 'queue_name' => 'runs', 'created_at' => '2026-01-01 00:00:00',
            'available_at' => gmdate('Y-m-d H:i:s', time() + 3600),
        ]);
        $transport = self::getContainer()->get('messenger.transport.runs');
        self::assertInstanceOf(InMemoryTransport::class, $transport);
        $transport->reset();
        $foreman = self::getContainer()->get(Foreman::class);
        $foreman->round();
        self::assertCount(1, $transport->getSent());
        $foreman->round();
        self::assertCount(1, $transport->getSent(), 'Not in every round.');
        $this->entities()->getConnection()->executeStatement(
            "UPDATE messenger_messages SET available_at = '2026-01-01 00:00:00'",
        );
        self::assertSame([], $this->handedOut(), 'A message that a worker will come upon is enough.');
    }

    public function testARunOfAClosedTrayDoesNotGoOn(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'check'], 202);
        self::assertSame('hand_over_while_busy', $this->refusal('POST', "/api/trays/$n/hand-over", []));
        $id = $this->text($this->moves($n)[0] ?? [], 'run', 'id');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/pause", null, 202);
        $this->handOver($n);
        self::assertSame('tray_closed', $this->refusal('POST', "/api/trays/$n/moves/1/runs/$id/go-on", []));
        self::assertCount(1, (array) ($this->moves($n)[0]['checks'] ?? []));
    }

    public function testWhoHasARunGoOnIsWhoWorksOnIt(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup'], 202);
        $id = $this->text($this->moves($n)[0] ?? [], 'run', 'id');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/pause", null, 202);
        $this->signIn('orla');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/go-on", [], 202);
        $this->work();
        $steps = (array) $this->call('GET', "/api/trays/$n")['steps'];
        $backUp = array_values(
            array_filter($steps, static fn (mixed $s): bool => is_array($s) && 'back_up' === $s['stage']),
        );
        self::assertSame('orla', $this->value($backUp, 0, 'by'));
    }

    public function testAllChecksAreKeptAndAnEarlierOneCanBeLookedAt(): void
    {
        $this->signIn();
        $n = $this->openTray();
        Phones::plan(
            $this->receiving, ['on' => 'first_open', 'do' => 'lose_files', 'largest' => 1, 'from' => 0.2, 'to' => 0.6],
        );
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        // Somebody brings the files back by hand.
        $tray = $this->entities()->getRepository(Tray::class)->findOneBy(['number' => $n]) ?? self::fail();
        $converted = self::getContainer()->get(MoveFiles::class)->converted($tray->move(1) ?? self::fail());
        foreach ($converted->paths() as $file) {
            $there = $this->receiving->data('otterpost').'/'.$file;
            is_file($there) ?: Folder::putStream($converted->open($file), $there);
        }
        $this->askAndWork($n, ['kind' => 'check']);
        $checks = $this->value($this->moves($n), 0, 'checks');
        self::assertIsArray($checks);
        self::assertSame(
            [true, false], array_map(fn (mixed $c): mixed => $this->value((array) $c, 'totals', 'complete'), $checks),
        );
        $id = $this->value($checks, 1, 'id');
        self::assertIsInt($id);
        $earlier = $this->call('GET', "/api/trays/$n/moves/1/arrival?check=$id");
        self::assertGreaterThan(0, $this->value($earlier, 'totals', 'missing'));
        $this->call('GET', "/api/trays/$n/moves/1/arrival?check=999", null, 404);
    }

    public function testAUserReadsTheirOwnLanguageAndTheSheetTheCustomers(): void
    {
        $this->signIn();
        self::assertSame('de', $this->call('PUT', '/api/session/language', ['language' => 'de'])['language']);
        $this->call('PUT', '/api/session/language', ['language' => 'xx'], 422);
        $this->layPhones();
        $n = $this->open(['language' => 'en']);
        self::assertSame(
            'Beide Telefone sind bereit: sichern', $this->value($this->call('GET', "/api/trays/$n"), 'waits', 'text'),
        );
        self::assertStringContainsString(
            'noch keine Sicherung',
            $this->text($this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'conversion'], 422), 'detail'),
        );
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertStringContainsString(
            'Everything that was meant to arrive', (string) $this->browser->getResponse()->getContent(),
        );
        // A spoilt file takes its own lines, and no number: those stand in the records.
        $folder = self::getContainer()->get(DataFolder::class)->tray($n).'/moves/1/checks.sealed';
        foreach (Folder::files($folder) as $lines) {
            file_put_contents($folder.'/'.$lines, 'spoilt');
        }
        self::getContainer()->get(OpenCopies::class)->sweep(0);
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertSame(200, $this->browser->getResponse()->getStatusCode());
        self::assertStringContainsString('Everything that was meant to arrive', $sheet);
        self::assertStringContainsString('can’t be read any more', $sheet);
        $this->signIn('orla');
        self::assertSame(
            'All arrived: hand over with the sheet', $this->value($this->call('GET', "/api/trays/$n"), 'waits', 'text'),
        );
        $this->call('GET', '/api/log');
    }

    private function openWithTwoAccounts(): int
    {
        $this->layPhones();
        $bakery = new Customer(
            'Test Person', '+447700900701', ['cake'], [], 6, 60, ['photo' => 90, 'voice' => 0, 'document' => 0], 'cake',
            2024, edition: 'Otterpost Counter',
        );
        DemoMaker::addAccount($this->giving, static fn (string $line) => null, $bakery, 5, false);
        $app = ['number' => $bakery->number] + Hands::APPS[self::COUNTER];
        $this->receiving->change(static fn (array $s): array => ['apps' => [...$s['apps'], $app]] + $s);
        EmptyMessenger::install($this->receiving, self::COUNTER, $bakery->number);
        DemoMaker::rest($this->receiving->data(self::COUNTER));

        return $this->open();
    }

    /** @param array<string, mixed> $change */
    private function open(array $change = []): int
    {
        $tray = $this->call('POST', '/api/trays', $change + [
            'customer' => 'Test Person', 'contact' => 'the café', 'consent' => true,
            'giving' => Phones::GIVING, 'receiving' => Phones::RECEIVING,
        ], 201);
        self::assertIsInt($tray['number']);

        return $tray['number'];
    }

    /** @return list<array<array-key, mixed>> */
    private function moves(int $n): array
    {
        $moves = [];
        foreach ((array) $this->call('GET', "/api/trays/$n")['moves'] as $move) {
            self::assertIsArray($move);
            $moves[] = $move;
        }

        return $moves;
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }
}
