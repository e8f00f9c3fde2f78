<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\DBAL\Connection;
use Geschenk\App\Log\LogChain;
use Geschenk\App\Log\LogLine;
use Geschenk\App\Log\ShopLog;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Tester\CommandTester;

final class LogTest extends ApiTestCase
{
    use Scratch;

    public function testItIsReadBackToItsFirstEntryAndNothingIsPushedOutOfSight(): void
    {
        $log = self::getContainer()->get(ShopLog::class);
        $log->note('jette', 'uncovered', 7, ['title' => 'Crew', 'edition' => 'Otterpost', 'serial' => 'S']);
        for ($n = 0; $n < 350; ++$n) {
            $log->note('?', 'sign_in_refused_from', null, ['address' => '203.0.113.7']);
        }
        $this->signIn('orla');
        $ids = [];
        $before = '';
        do {
            $page = $this->call('GET', '/api/log'.$before);
            self::assertIsArray($page['entries']);
            $ids = [...$ids, ...array_column($page['entries'], 'id')];
            $last = end($ids);
            $before = '?before='.(is_int($last) ? $last : 0);
        } while (true === $page['older']);
        self::assertSame(range(count($ids), 1), $ids, 'each entry once, newest first');
        self::assertGreaterThan(350, count($ids));

        self::assertSame(['uncovered'], $this->acts('kind=look&by=jette'));
        self::assertSame(['uncovered'], $this->acts('tray=7'));
        self::assertSame([], $this->acts('day=2024-02-29'));
        self::assertContains('signed_in_from', $this->acts('kind=sign_in&by=orla&day='.date('Y-m-d')));
        self::assertSame([], $this->acts('kind=work'));
        self::assertContains('jette', (array) $this->call('GET', '/api/log')['people']);
        $this->call('GET', '/api/log?day=2024-02-99', null, 422);
    }

    public function testWhatIsSeenAndDoneIsInIt(): void
    {
        $this->signIn();
        $this->openTray();
        $this->call('POST', '/api/standin/phones/GIVES0001/acts', ['act' => 'unplug']);
        $this->call('DELETE', '/api/session');
        $this->signIn('orla');
        $this->call('GET', '/api/log');
        $acts = $this->acts('');
        foreach (['signed_in_from', 'step.opened', 'hands', 'signed_out', 'log_read'] as $act) {
            self::assertContains($act, $acts);
        }
    }

    /** @return iterable<string, array{string, string}> what somebody does to the database, what is said */
    public static function harms(): iterable
    {
        yield 'another who' => ["UPDATE log_entry SET done_by = 'orla' WHERE id = 3", 'changed 3'];
        yield 'another act' => ["UPDATE log_entry SET act = 'covered' WHERE id = 3", 'changed 3'];
        yield 'another time' => ["UPDATE log_entry SET at = '2020-01-01 00:00:00' WHERE id = 3", 'changed 3'];
        yield 'another tray' => ['UPDATE log_entry SET tray_number = 1 WHERE id = 3', 'changed 3'];
        yield 'another parameter' => ["UPDATE log_entry SET params = '[]' WHERE id = 3", 'changed 3'];
        yield 'one taken out' => ['DELETE FROM log_entry WHERE id = 3', 'missing 3'];
        yield 'the first taken out' => ['DELETE FROM log_entry WHERE id = 1', 'missing 1'];
        yield 'the last taken out' => ['DELETE FROM log_entry WHERE id = 5', 'missing 5'];
        yield 'two have changed places' => [
            'UPDATE log_entry SET id = 99 WHERE id = 2; UPDATE log_entry SET id = 2 WHERE id = 3; '
                .'UPDATE log_entry SET id = 3 WHERE id = 99', 'changed 2',
        ];
        yield 'one put in before the first' => [
            'INSERT INTO log_entry SELECT 0, at, done_by, act, tray_number, params, hash, seal FROM log_entry '
                .'WHERE id = 2', 'missing 0',
        ];
        yield 'the last taken out, and their counter' => [
            "DELETE FROM log_entry WHERE id > 2; DELETE FROM sqlite_sequence WHERE name = 'log_entry'", 'missing 3',
        ];
        yield 'a tray of another type' => ["UPDATE log_entry SET tray_number = 'x' WHERE id = 3", 'changed 3'];
        yield 'one of its seals gone' => ['UPDATE log_entry SET seal = NULL WHERE id = 3', 'changed 3'];
        yield 'one put in' => [
            'UPDATE log_entry SET id = id + 100 WHERE id > 2; UPDATE log_entry SET id = id - 99 WHERE id > 100; '
                ."INSERT INTO log_entry SELECT 3, at, done_by, 'covered', tray_number, params, hash, seal "
                .'FROM log_entry WHERE id = 2', 'changed 3',
        ];
    }

    #[DataProvider('harms')]
    public function testWhatWasChangedTakenOutOrPutInIsFound(string $harm, string $said): void
    {
        $log = self::getContainer()->get(ShopLog::class);
        for ($n = 1; $n <= 5; ++$n) {
            $log->note('jette', 'uncovered', 7, ['title' => "Conversation $n", 'edition' => 'O', 'serial' => 'S']);
        }
        $chain = self::getContainer()->get(LogChain::class);
        self::assertNull($chain->firstFault());
        $connection = self::getContainer()->get(Connection::class);
        foreach (explode('; ', $harm) as $statement) {
            $connection->executeStatement($statement);
        }
        self::assertSame($said, implode(' ', array_reverse($chain->firstFault() ?? [])));
        $command = new CommandTester((new Application($this->browser->getKernel()))->find('log:verify'));
        self::assertSame(1, $command->execute([]));
        self::assertStringContainsString('Keep a copy', $command->getDisplay());
    }

    /** Who has the records alone can compute the chain anew, and not its seals. */
    public function testAChainThatSomebodyMadeAnewIsFound(): void
    {
        $log = self::getContainer()->get(ShopLog::class);
        for ($n = 1; $n <= 5; ++$n) {
            $log->note('jette', 'uncovered', 7, ['edition' => "O$n"]);
        }
        $connection = self::getContainer()->get(Connection::class);
        $kept = $connection->fetchOne('SELECT hash FROM log_entry WHERE id = 4');
        self::assertIsString($kept);
        $chain = self::getContainer()->get(LogChain::class);
        self::assertTrue($chain->holds(4, $kept));
        $connection->executeStatement('DELETE FROM log_entry WHERE id = 2');
        $connection->executeStatement('UPDATE log_entry SET id = id - 1 WHERE id > 2');
        $connection->executeStatement("UPDATE sqlite_sequence SET seq = 4 WHERE name = 'log_entry'");
        $before = '';
        foreach (iterator_to_array($chain->entries(), false) as $e) {
            $before = LogChain::hash($before, new LogLine(
                $e['id'], $e['at'], $e['done_by'], $e['act'], $e['tray_number'], $e['params'],
            ));
            $connection->executeStatement('UPDATE log_entry SET hash = ? WHERE id = ?', [$before, $e['id']]);
        }
        self::assertSame(['id' => 2, 'fault' => LogChain::CHANGED], $chain->firstFault());
        self::assertFalse($chain->holds(4, $kept));
    }

    public function testAnEntryThatWasWrittenDownElsewhereIsHeldAgainstTheLog(): void
    {
        $log = self::getContainer()->get(ShopLog::class);
        $log->note('jette', 'log_read');
        $log->note('jette', 'log_read');
        $hash = self::getContainer()->get(Connection::class)->fetchOne('SELECT hash FROM log_entry WHERE id = 1');
        self::assertIsString($hash);
        $command = new CommandTester((new Application($this->browser->getKernel()))->find('log:verify'));
        self::assertSame(0, $command->execute(['--holds' => "1:$hash"]));
        foreach (["2:$hash", '1:'.strrev($hash), '1', "9:$hash"] as $other) {
            self::assertSame(1, $command->execute(['--holds' => $other]), $other);
        }
    }

    public function testItIsSavedAsJsonLines(): void
    {
        $log = self::getContainer()->get(ShopLog::class);
        $log->note('jette', 'uncovered', 7, ['title' => "Crew\n\xFF ü", 'edition' => 'O', 'serial' => 'S']);
        $log->note('orla', 'log_read');
        $application = new Application($this->browser->getKernel());
        $save = new CommandTester($application->find('log:save'));
        self::assertSame(0, $save->execute(['file' => $this->path('log.jsonl')]));
        $lines = file($this->path('log.jsonl'), \FILE_IGNORE_NEW_LINES) ?: self::fail();
        self::assertCount(2, $lines);
        $first = json_decode($lines[0], true, 8, \JSON_THROW_ON_ERROR);
        self::assertIsArray($first);
        self::assertSame(['jette', 'uncovered', 7], [$first['done_by'], $first['act'], $first['tray_number']]);
        self::assertSame(2, $save->execute(['file' => $this->path('log.jsonl')]), 'nothing is written over');
        $verify = new CommandTester($application->find('log:verify'));
        self::assertSame(0, $verify->execute([]));
        self::assertStringContainsString('2 entries', $verify->getDisplay());
    }

    /** @return list<string> */
    private function acts(string $query): array
    {
        $entries = $this->call('GET', '/api/log?'.$query)['entries'];

        return array_values(array_filter(array_column((array) $entries, 'act'), is_string(...)));
    }
}
