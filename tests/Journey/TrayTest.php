<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\Core\Archive\Vault;
use Geschenk\Standin\Demo\WornStorage;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;

/** A tray from intake to hand-over, and what stands in its way. */
final class TrayTest extends ApiTestCase
{
    public function testTheWholeWay(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $before = Phones::fingerprint($this->giving->data('otterpost'));
        self::assertSame('ready', $this->stage($n));
        $this->askAndWork($n, ['kind' => 'backup']);
        self::assertSame('choose', $this->stage($n));
        $backup = $this->value($this->move($n), 'backup');
        self::assertIsArray($backup);
        self::getContainer()->get(Vault::class)->verify($this->text($backup, 'id'));

        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertSame('restore', $this->stage($n));
        $losses = $this->call('GET', "/api/trays/$n/moves/1/losses");
        self::assertTrue($this->value($losses, 'totals', 'complete'));
        self::assertSame(3, $this->value($losses, 'attachments_absent'));
        $rules = $this->value($losses, 'losses');
        self::assertIsArray($rules);
        self::assertContains('broadcast_list', [...array_column($rules, 'rule'), 'broadcast_list']);

        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame('hand_over', $this->stage($n), 'The check follows by itself.');
        $arrival = $this->call('GET', "/api/trays/$n/moves/1/arrival");
        $totals = $this->value($arrival, 'totals');
        self::assertIsArray($totals);
        self::assertSame($backup['messages'], $totals['messages']);
        self::assertTrue($totals['complete']);
        self::assertSame(
            $before, Phones::fingerprint($this->giving->data('otterpost')), 'The giving phone is never written to.',
        );

        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertResponseIsSuccessful();
        self::assertStringContainsString('Everything that was meant to arrive', $sheet);
        self::assertStringContainsString('Test Person', $sheet);

        $this->handOver($n);
        $tray = $this->tray($n);
        self::assertTrue($tray['closed']);
        self::assertSame(
            ['intake', 'ready', 'back_up', 'choose', 'convert', 'restore', 'check', 'hand_over', 'hand_over'],
            array_column((array) $tray['steps'], 'stage'),
        );
        self::assertSame(['jette'], array_keys(array_column((array) $tray['steps'], 'stage', 'by')));
        self::assertDirectoryDoesNotExist(self::getContainer()->get(DataFolder::class)->tray($n).'/converted');
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'check'], 422);
    }

    public function testWhatIsChosenIsRehearsedAnewAndArrives(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->bringTo($n, 'converted');
        $list = $this->loss($n, 'broadcast_list');
        self::assertSame(['left_out', 'left_out'], [$list['outcome'], $list['choice']]);
        $this->call('PUT', "/api/trays/$n/moves/1/choices/broadcast_list", ['choice' => 'as_conversations'], 202);
        $this->work();
        $list = $this->loss($n, 'broadcast_list');
        self::assertSame(['spread', 'as_conversations', 25], [$list['outcome'], $list['choice'], $list['messages']]);
        $totals = $this->value($this->call('GET', "/api/trays/$n/moves/1/losses"), 'totals');
        self::assertIsArray($totals);
        self::assertTrue($totals['complete']);
        self::assertGreaterThanOrEqual(25, $totals['added']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $arrival = $this->call('GET', "/api/trays/$n/moves/1/arrival");
        self::assertSame(
            [0, $totals['added']],
            [$this->value($arrival, 'totals', 'missing'), $this->value($arrival, 'totals', 'added')],
        );
        $spread = array_values(
            array_filter(
                (array) $arrival['conversations'],
                static fn (mixed $c): bool => is_array($c) && 'broadcast' === $c['kind'],
            ),
        )[0] ?? self::fail();
        self::assertIsArray($spread);
        self::assertSame(
            ['changed', 25, ['broadcast_list']], [$spread['verdict'], $spread['changed'], $spread['rules']],
        );
        self::assertSame(
            [],
            array_filter(
                (array) $arrival['account'], static fn (mixed $a): bool => !is_array($a) || 0 !== $a['differing'],
            ),
        );
        // Too late now, and what is not on offer never.
        $this->call('PUT', "/api/trays/$n/moves/1/choices/broadcast_list", ['choice' => 'left_out'], 422);
    }

    public function testOnlyWhatARuleOffersCanBeChosen(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->bringTo($n, 'converted');
        $this->call('PUT', "/api/trays/$n/moves/1/choices/broadcast_list", ['choice' => 'burnt'], 422);
        $this->call('PUT', "/api/trays/$n/moves/1/choices/no_such_rule", ['choice' => 'left_out'], 422);
        $this->call('PUT', "/api/trays/$n/moves/1/choices/wallpaper", ['choice' => 'left_out'], 422);
        self::assertSame('left_out', $this->loss($n, 'broadcast_list')['choice']);
    }

    public function testWornStorageIsSaidInTheBackupAndOnTheSheet(): void
    {
        $this->signIn();
        $n = $this->openTray();
        Phones::giving(self::getContainer()->get(DataFolder::class)->phones(), [], false, 600);
        WornStorage::spoil($this->giving->data('otterpost').'/pouch.db', 'slip');
        $this->bringTo($n, 'backed up');
        $lost = $this->value($this->move($n), 'backup', 'lost');
        self::assertIsInt($lost);
        self::assertGreaterThan(0, $lost);
        $conversations = $this->value($this->call('GET', "{$this->backupPath($n)}/conversations"), 'conversations');
        self::assertSame($lost, array_sum(array_column((array) $conversations, 'lost')));
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertStringContainsString(
            number_format($lost).' messages could not be read on the giving phone',
            (string) $this->browser->getResponse()->getContent(),
        );
    }

    public function testAHoleIsFoundAndNamed(): void
    {
        $this->signIn();
        $n = $this->openTray();
        Phones::plan(
            $this->receiving, ['on' => 'first_open', 'do' => 'lose_files', 'largest' => 1, 'from' => 0.2, 'to' => 0.6],
        );
        $this->bringTo($n, 'restored');
        $arrival = $this->call('GET', "/api/trays/$n/moves/1/arrival");
        $missing = $this->value($arrival, 'totals', 'missing');
        self::assertIsInt($missing);
        self::assertGreaterThan(0, $missing);
        self::assertSame(['attachment_not_there' => $missing], $this->value($arrival, 'reasons'));
        self::assertSame('missing', $this->value($arrival, 'conversations', 0, 'verdict'));
        $id = $this->value($arrival, 'conversations', 0, 'id');
        self::assertIsInt($id);
        $findings = $this->value($this->call('GET', "/api/trays/$n/moves/1/arrival/$id"), 'findings');
        self::assertIsArray($findings);
        self::assertCount($missing, $findings);
        self::assertSame('check', $this->stage($n));
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertStringContainsString("$missing of", (string) $this->browser->getResponse()->getContent());
    }

    public function testIntakeRefusesWhatCanNotBe(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $whole = [
            'customer' => 'A', 'contact' => 'B', 'consent' => true, 'giving' => Phones::GIVING,
            'receiving' => Phones::RECEIVING,
        ];
        foreach ([
            [['consent' => false], 'consent'], [['customer' => ' '], 'Customer'], [
                ['customer' => str_repeat('x', 121)], 'too long',
            ], [['contact' => ['x']], 'Contact'],
            [['receiving' => Phones::GIVING], 'at once'], [
                ['giving' => 'NOPHONE01'], 'not on the bench',
            ], [[], 'in tray '.$n],
        ] as [$change, $because]) {
            self::assertStringContainsString(
                $because, $this->text($this->call('POST', '/api/trays', $change + $whole, 422), 'detail'),
            );
        }
        $this->call('GET', '/api/trays/999', null, 404);
    }

    public function testReadinessIsSeenLiveAndGuardsTheBackup(): void
    {
        $this->signIn();
        $n = $this->openTray();
        foreach (['GIVES0001', 'RECEIVES1'] as $serial) {
            $this->call('POST', "/api/standin/phones/$serial/acts", ['act' => 'lock']);
        }
        $phones = $this->value($this->call('GET', "/api/trays/$n/readiness"), 'phones');
        self::assertIsArray($phones);
        $lacking = static fn (mixed $phone): array => array_values(array_filter(
            is_array($phone) ? (array) $phone['points'] : [],
            static fn (mixed $point): bool => is_array($point) && 'ready' !== $point['status'],
        ));
        self::assertSame(['unlocked'], array_column($lacking($phones[0]), 'id'));
        self::assertSame(['unlocked'], array_column($lacking($phones[1]), 'id'));
        self::assertStringContainsString(
            'Unlock the screen',
            $this->text($this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup'], 422), 'detail'),
        );
        $waits = $this->value($this->tray($n), 'waits');
        self::assertIsArray($waits);
        self::assertSame(
            ['person', 'customer', "$n-A", 'Screen is locked'],
            [$waits['for'], $waits['who'], $waits['tag'], $waits['text']],
        );
        // The phone that receives may still be set up meanwhile.
        $this->call('POST', '/api/standin/phones/GIVES0001/acts', ['act' => 'unlock']);
        self::assertSame('technician', $this->value($this->tray($n), 'waits', 'who'));
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup'], 202);
        self::assertStringContainsString(
            'going on already',
            $this->text($this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup'], 422), 'detail'),
        );
    }

    public function testAccountsAreBackedUpTogetherOrNotAtAll(): void
    {
        $this->signIn();
        $n = $this->openTray();
        foreach ([[], [['place' => 1], ['place' => 7]], [['place' => 1], 'x'], [['place' => '1']]] as $accounts) {
            $this->call('POST', "/api/trays/$n/backups", ['accounts' => $accounts], 422);
            self::assertNull($this->move($n)['run'], 'Nothing is begun of what could only be begun in part.');
        }
        $this->call('POST', "/api/trays/$n/backups", ['accounts' => [['place' => 1]]], 202);
        self::assertSame('backup', $this->value($this->move($n), 'run', 'kind'));
    }

    public function testSwappedRolesAreSeenAndChangedDeliberately(): void
    {
        $this->signIn();
        $n = $this->openTray();
        self::assertGreaterThan(50, $this->value($this->holds('GIVES0001'), 'counts', 'messages'));
        self::assertSame(0, $this->value($this->holds('RECEIVES1'), 'counts', 'messages'));
        $this->call('PUT', "/api/trays/$n/roles", ['giving_tag' => '99-Z'], 422);
        $this->askAndWork($n, ['kind' => 'backup']);
        $tray = $this->call('PUT', "/api/trays/$n/roles", ['giving_tag' => "$n-B"]);
        self::assertSame(
            ["$n-A" => 'receives', "$n-B" => 'gives'], array_column((array) $tray['phones'], 'role', 'tag'),
        );
        self::assertNull($this->value($tray, 'moves', 0, 'backup'), 'A backup of the other phone counts no more.');
        $this->call('PUT', "/api/trays/$n/roles", ['giving_tag' => "$n-A"]);
        self::assertNotNull($this->move($n)['backup']);
    }

    public function testNothingIsWrittenBeforeItMayBe(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $before = Phones::fingerprint($this->receiving->data('otterpost'));
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'restore', 'confirmed_tag' => "$n-B"], 422);
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'conversion'], 422);
        $this->call('POST', "/api/trays/$n/hand-over", [], 422);
        $this->bringTo($n, 'converted');
        self::assertStringContainsString(
            "$n-B",
            $this->text(
                $this->call(
                    'POST', "/api/trays/$n/moves/1/runs", ['kind' => 'restore', 'confirmed_tag' => "$n-A"], 422,
                ),
                'detail',
            ),
        );
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'restore'], 422);
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'erase'], 422);
        // Somebody writes to the new phone between the confirmation and the worker's start.
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'restore', 'confirmed_tag' => "$n-B"], 202);
        self::assertSame($before, Phones::fingerprint($this->receiving->data('otterpost')));
        $database = new \SQLite3($this->receiving->data('otterpost').'/Pouch.sqlite');
        $database->exec(
            'INSERT INTO ZROOM (Z_PK, ZHANDLE, ZSORT) '
                ."VALUES (1, 'x', 1); INSERT INTO ZSLIP (Z_PK, ZROOM, ZSORT, ZSENT, ZSTAGE) VALUES (1, 1, 1, 5.0, 8)",
        );
        $database->close();
        $this->work();
        $run = $this->value($this->move($n), 'run');
        self::assertIsArray($run);
        self::assertSame('failed', $run['state']);
        self::assertStringContainsString('1 message, and nobody has agreed', $this->text($run, 'trouble'));
        self::assertSame(1, $this->value($this->holds('RECEIVES1'), 'counts', 'messages'));
    }

    public function testAPulledCableIsSaidAndTakenUpAgain(): void
    {
        $this->signIn();
        $n = $this->openTray();
        Phones::plan($this->giving, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 250_000]);
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup'], 202);
        $this->work(2);
        $tray = $this->tray($n);
        self::assertSame('waiting', $this->value($tray, 'moves', 0, 'run', 'state'));
        self::assertSame(
            ['person', "$n-A"], [$this->value($tray, 'waits', 'for'), $this->value($tray, 'waits', 'tag')],
        );
        self::assertStringContainsString("Phone $n-A is not connected", $this->text($tray, 'waits', 'how'));
        self::assertNull($this->value($tray, 'moves', 0, 'run', 'progress', 'bytes_per_second'));
        Phones::plug($this->giving);
        $this->work();
        self::assertSame('done', $this->value($this->move($n), 'run', 'state'), json_encode($this->tray($n)) ?: '');

        $this->askAndWork($n, ['kind' => 'conversion']);
        Phones::plan($this->receiving, ['on' => 'push', 'do' => 'unplug', 'after_bytes' => 150_000]);
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'restore', 'confirmed_tag' => "$n-B"], 202);
        $this->work(2);
        self::assertSame('waiting', $this->value($this->move($n), 'run', 'state'));
        Phones::plug($this->receiving);
        $this->work();
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));

        Phones::plan($this->receiving, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 200_000]);
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'check'], 202);
        $this->work(2);
        self::assertSame(
            ['check', 'waiting'],
            [$this->value($this->move($n), 'run', 'kind'), $this->value($this->move($n), 'run', 'state')],
        );
        Phones::plug($this->receiving);
        $this->work();
        self::assertSame('done', $this->value($this->move($n), 'run', 'state'));
    }

    public function testASealedBackupIsAskedForItsKeyWhichIsNotKept(): void
    {
        $this->signIn();
        $number = $this->openTray();
        Phones::seal($this->giving, 'ebb & flow');
        $holds = $this->holds(Phones::GIVING);
        self::assertNull($holds['counts']);
        self::assertSame(
            ['local_backup', filesize($this->giving->data('otterpost').'/pouch.sealed'), 'password'],
            [
                $this->value($holds, 'offers', 0, 'way'), $this->value($holds, 'offers', 0, 'bytes'),
                $this->value($holds, 'offers', 0, 'lock'),
            ],
        );
        $phones = $this->value($this->call('GET', "/api/trays/$number/readiness"), 'phones');
        self::assertStringContainsString(
            ' needed', (string) json_encode($phones), 'The attachments beside it say how much space it takes.',
        );
        $refused = $this->call('POST', "/api/trays/$number/moves/1/runs", ['kind' => 'backup'], 422);
        self::assertStringContainsString('64 digits or its password', $this->text($refused, 'detail'));

        $this->askAndWork($number, ['kind' => 'backup', 'key' => 'flow & ebb']);
        $tray = $this->call('GET', "/api/trays/$number");
        self::assertSame('failed', $this->value($tray, 'moves', 0, 'run', 'state'));
        self::assertStringStartsWith(
            'That does not open it: The messenger’s own backup on the phone was locked with another key',
            $this->text($tray, 'waits', 'how'),
        );
        $goOn = sprintf('/api/trays/%d/moves/1/runs/%s/go-on', $number, $this->text($tray, 'moves', 0, 'run', 'id'));
        $this->call('POST', $goOn, null, 422);
        $this->call('POST', $goOn, ['key' => 'ebb & flow'], 202);
        // Kept for the worker alone, and not so that a copy of the database would tell it.
        $connection = self::getContainer()->get(EntityManagerInterface::class)->getConnection();
        $kept = (string) json_encode(
            [
                $connection->fetchAllAssociative('SELECT * FROM run'),
                $connection->fetchAllAssociative('SELECT * FROM log_entry'),
            ],
        );
        self::assertStringNotContainsString('ebb & flow', $kept);
        self::assertNotNull($connection->fetchOne('SELECT locked_key FROM run'));
        $this->work();
        $tray = $this->call('GET', "/api/trays/$number");
        self::assertSame('choose', $tray['stage']);
        self::assertGreaterThan(0, $this->value($tray, 'moves', 0, 'backup', 'messages'));
        self::assertNull($connection->fetchOne('SELECT locked_key FROM run'));
        $this->askAndWork($number, ['kind' => 'conversion']);
        self::assertTrue($this->value($this->move($number), 'rehearsal', 'complete'));
    }

    public function testAKeyToldWhileTheCableIsOutIsThereWhenThePhoneIs(): void
    {
        $this->signIn();
        $number = $this->openTray();
        Phones::seal($this->giving, 'ebb & flow');
        $this->askAndWork($number, ['kind' => 'backup', 'key' => 'flow & ebb']);
        $goOn = sprintf('/api/trays/%d/moves/1/runs/%s/go-on', $number, $this->text($this->move($number), 'run', 'id'));
        Phones::plug($this->giving, false);
        $this->call('GET', "/api/trays/$number/readiness");
        $this->call('POST', $goOn, ['key' => 'ebb & flow'], 202);
        $this->work(2);
        self::assertSame('waiting', $this->value($this->move($number), 'run', 'state'));
        Phones::plug($this->giving);
        $this->work();
        self::assertSame('choose', $this->call('GET', "/api/trays/$number")['stage']);
    }

    public function testARunOfAPhoneThatLeftTheBenchWaitsForIt(): void
    {
        $this->signIn();
        $number = $this->openTray();
        Phones::seal($this->giving, 'ebb & flow');
        $this->askAndWork($number, ['kind' => 'backup', 'key' => 'flow & ebb']);
        $goOn = sprintf('/api/trays/%d/moves/1/runs/%s/go-on', $number, $this->text($this->move($number), 'run', 'id'));
        rename($this->giving->path.'/phone.json', $this->giving->path.'/away.json');
        $this->call('POST', $goOn, ['key' => 'ebb & flow'], 202);
        $this->work(2);
        self::assertSame('waiting', $this->value($this->move($number), 'run', 'state'));
    }

    public function testAKeyIsNotKeptForChatsThatLieOpen(): void
    {
        $this->signIn();
        $number = $this->openTray();
        $connection = self::getContainer()->get(EntityManagerInterface::class)->getConnection();
        // While nobody has looked it may be needed; as soon as the phone shows that it is not, it is gone.
        $this->askAndWork($number, ['kind' => 'backup', 'key' => 'told for nothing']);
        self::assertNull($connection->fetchOne('SELECT locked_key FROM run'));
        $this->look();
        $this->call('POST', "/api/trays/$number/moves/1/runs", ['kind' => 'backup', 'key' => 'told for nothing'], 202);
        self::assertSame([null, null], $connection->fetchFirstColumn('SELECT locked_key FROM run'));
        $this->call(
            'POST', "/api/trays/$number/moves/1/runs", ['kind' => 'backup', 'key' => str_repeat('x', 201)], 422,
        );
    }

    public function testAFailedRunGoesOnWhenAsked(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $wal = $this->giving->data('otterpost').'/pouch.db-wal';
        $database = $this->giving->data('otterpost').'/pouch.db';
        rename($database, $database.'.good');
        rename($wal, $wal.'.good');
        file_put_contents($database, 'broken');
        $this->askAndWork($n, ['kind' => 'backup']);
        $run = $this->value($this->move($n), 'run');
        self::assertIsArray($run);
        self::assertSame('failed', $run['state']);
        self::assertStringContainsString('not an SQLite database', $this->text($run, 'trouble'));
        rename($database.'.good', $database);
        rename($wal.'.good', $wal);
        $this->call('POST', "/api/trays/$n/moves/1/runs/".$this->text($run, 'id').'/go-on', null, 202);
        $this->work();
        self::assertSame('choose', $this->stage($n));
        $this->call('POST', "/api/trays/$n/moves/1/runs/".$this->text($run, 'id').'/go-on', null, 422);
    }

    public function testTextsAreCoveredUntilSomebodyUncoversThemWhichIsLogged(): void
    {
        $this->signIn('orla');
        $n = $this->openTray();
        $this->bringTo($n, 'backed up');
        $list = $this->value($this->call('GET', "{$this->backupPath($n)}/conversations"), 'conversations');
        self::assertIsArray($list);
        $id = null;
        foreach ($list as $row) {
            if (is_array($row) && 'Committee' === $row['title']) {
                $id = $row['id'];
            }
        }
        self::assertIsInt($id);
        $base = "{$this->backupPath($n)}/conversations/$id";
        $covered = $this->call('GET', "$base/messages?limit=500");
        $this->call('GET', "$base/place?day=2026-01-01");
        $this->call('GET', "$base/place?day=soon", null, 422);
        self::assertTrue($covered['covered']);
        self::assertStringNotContainsString(
            'Sent twice by a bad connection', (string) $this->browser->getResponse()->getContent(),
        );
        self::assertStringNotContainsString('gone.jpg', (string) $this->browser->getResponse()->getContent());
        $this->call('PUT', "$base/uncovered");
        self::assertTrue(
            $this->call('GET', "$base/messages?limit=500")['covered'], 'Texts come only where a page asks for them.',
        );
        self::assertFalse($this->call('GET', "$base/messages?limit=500&uncovered=1")['covered']);
        self::assertStringContainsString(
            'Sent twice by a bad connection', (string) $this->browser->getResponse()->getContent(),
        );
        $this->call('DELETE', "$base/uncovered");
        self::assertTrue($this->call('GET', "$base/messages?limit=500&uncovered=1")['covered']);
        $entries = $this->value($this->call('GET', '/api/log'), 'entries');
        self::assertIsArray($entries);
        $log = array_filter(
            $entries,
            static fn (mixed $e): bool => is_array($e) && 'uncovered' === $e['act'] && 'orla' === $e['by']
                && $n === $e['tray'],
        );
        self::assertCount(1, $log);
    }

    public function testTheStandInDeskOffersOnlyWhatThePhoneWould(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->call('GET', '/api/standin/phones');
        $this->call('POST', '/api/standin/phones/GIVES0001/acts', ['act' => 'admit'], 422);
        $this->call('POST', '/api/standin/phones/GIVES0001/acts', ['act' => 'register', 'typed' => 'x'], 422);
        self::assertSame(
            0.5,
            $this->value(
                $this->call('PUT', '/api/standin/phones/GIVES0001/cable', ['megabytes_per_second' => 0.5]),
                'megabytes_per_second',
            ),
        );
        $this->call('GET', '/api/phones');
        $this->call('GET', '/api/trays');
    }

    private function bringTo(int $n, string $state): void
    {
        $this->askAndWork($n, ['kind' => 'backup']);
        if ('backed up' !== $state) {
            $this->askAndWork($n, ['kind' => 'conversion']);
        }
        if ('restored' === $state) {
            $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        }
    }

    private function stage(int $n): string
    {
        return $this->text($this->tray($n), 'stage');
    }

    /** @return array<array-key, mixed> */
    private function tray(int $n): array
    {
        return $this->call('GET', "/api/trays/$n");
    }

    /** @return array<array-key, mixed> what the first account on a phone holds, as last seen */
    private function holds(string $serial): array
    {
        $this->look();
        foreach ((array) $this->call('GET', '/api/phones')['phones'] as $phone) {
            if (is_array($phone) && $serial === $this->value($phone, 'live', 'serial')) {
                $holds = $this->value($phone, 'live', 'accounts', 0, 'holds');
                self::assertIsArray($holds);

                return $holds;
            }
        }
        self::fail("$serial is not on the bench.");
    }

    /** @return array<array-key, mixed> what one rule did */
    private function loss(int $n, string $rule): array
    {
        foreach ((array) $this->value($this->call('GET', "/api/trays/$n/moves/1/losses"), 'losses') as $loss) {
            if (is_array($loss) && $loss['rule'] === $rule) {
                return $loss;
            }
        }
        self::fail("$rule touched nothing.");
    }
}
