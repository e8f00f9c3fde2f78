<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Work;

use Geschenk\App\DataFolder;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\Work\Erasing;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\App\ApiTestCase;

/** What may be begun is told with each move: no page guesses it, and the desk says the same. */
final class TurnsTest extends ApiTestCase
{
    public function testEachStageHasItsTurnsAndTheDeskSaysTheSame(): void
    {
        $this->signIn();
        $n = $this->openTray();
        self::assertSame(['backup' => null], $this->may($n));
        ['hand_over' => $why, 'turn' => $turn] = $this->mayOfTray($n);
        self::assertIsString($why);
        self::assertStringContainsString('Nothing was checked yet', $why);
        self::assertNull($turn);
        $this->giving->change(static fn (array $state): array => ['battery' => 3] + $state);
        self::assertStringContainsString('Charge it', (string) $this->may($n)['backup'], 'Why not, in words.');
        $this->giving->change(static fn (array $state): array => ['battery' => 76] + $state);
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup'], 202);
        self::assertSame([], $this->may($n), 'While one is under way there is no other.');
        $why = $this->mayOfTray($n)['turn'];
        self::assertIsString($why);
        self::assertStringContainsString('Work on this tray is going on', $why);
        $this->work();
        self::assertSame(['backup' => null, 'conversion' => null], $this->may($n));
        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertSame(['backup' => null, 'conversion' => null, 'restore' => null], $this->may($n));
        $this->receiving->change(static fn (array $state): array => ['plugged' => false] + $state);
        self::assertStringContainsString("$n-B", (string) $this->may($n)['restore']);
        $this->receiving->change(static fn (array $state): array => ['plugged' => true] + $state);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame(['check' => null, 'compare_by_eye' => null, 'put_back' => null], $this->may($n));
        self::assertSame(
            ['hand_over' => null, 'correct' => null, 'withdraw' => null, 'print_labels' => null], $this->mayOfTray($n),
            'What was written has its direction.',
        );
        $this->handOver($n);
        self::assertSame(['put_back' => null], $this->may($n), 'Behind the hand-over only the way back.');
        self::assertSame(['keep_until' => null, 'erase' => null, 'reopen' => null], $this->mayOfTray($n));
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'put_back', 'confirmed_tag' => "$n-B"], 202);
        $why = $this->text($this->call('POST', "/api/trays/$n/erase", ['number' => "$n"], 422), 'detail');
        self::assertSame(['keep_until' => null, 'erase' => $why, 'reopen' => $why], $this->mayOfTray($n));
        $this->work();
        $this->call('POST', "/api/trays/$n/erase", ['number' => "$n"], 202);
        self::assertSame([], $this->mayOfTray($n));
        self::getContainer()->get(Erasing::class)->do($n);
        self::assertSame([[], []], [$this->may($n), $this->mayOfTray($n)]);
    }

    public function testWhatBringsMoreIsOfferedWhereTheDeskWouldDoIt(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $path = "/api/trays/$n/moves/1";
        self::assertSame('nothing_checked', $this->refusal('POST', "$path/missing", null));
        self::assertSame('no_trial', $this->refusal('POST', "$path/rest", null));
        $this->call('PUT', "$path/scope", ['trial_newest' => 2, 'convert' => true]);
        $this->work();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertContains('bring_rest', array_keys($this->may($n)));
        self::assertNotContains('bring_missing', array_keys($this->may($n)));
        self::assertSame('nothing_missing', $this->refusal('POST', "$path/missing", null));
        $this->call('POST', "$path/rest", null, 202);
        self::assertNotContains('bring_rest', array_keys($this->may($n)));
    }

    public function testWhatStandsIsGoneOnWithAndNothingElseIsBegun(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $backups = self::getContainer()->get(DataFolder::class)->backups();
        foreach (Folder::files($backups) as $file) {
            file_put_contents("$backups/$file", 'spoilt');
        }
        $this->askAndWork($n, ['kind' => 'conversion']);
        $move = $this->value($this->call('GET', "/api/trays/$n"), 'moves', 0);
        self::assertIsArray($move);
        self::assertSame('failed', $this->value($move, 'run', 'state'));
        self::assertContains('go_on', (array) $this->value($move, 'run', 'may'));
        // The desk would begin one all the same, and let go of what stands: that is nothing to offer beside going on.
        self::assertSame([], $this->value($move, 'may'));
        $this->call('POST', "/api/trays/$n/moves/1/runs/".$this->text($move, 'run', 'id').'/cancel', [], 202);
        $this->work();
        self::assertSame(['backup' => null, 'conversion' => null], $this->may($n));
    }

    /** @return array<array-key, mixed> why it would be refused, by what may be done about the tray */
    private function mayOfTray(int $n): array
    {
        return array_column((array) $this->value($this->call('GET', "/api/trays/$n"), 'may'), 'why', 'act');
    }

    /** @return array<string, string|null> why it would be refused, by what may be begun; held against the desk */
    private function may(int $n): array
    {
        $may = array_column((array) $this->value($this->call('GET', "/api/trays/$n"), 'moves', 0, 'may'), 'why', 'act');
        ksort($may);
        // One of the tests' own, which nothing stands in the way of.
        unset($may['counting']);
        foreach (self::getContainer()->get(Kinds::class)->ofMoves() as $kind) {
            if ('counting' === $kind::name()) {
                continue;
            }
            // A tag that is no phone's is agreed to by nobody: whatever else would be refused is refused before it.
            $order = ['kind' => $kind::name(), 'confirmed_tag' => 'nobody'];
            if (!array_key_exists($kind::name(), $may) || null !== $may[$kind::name()]) {
                $refusal = $this->call('POST', "/api/trays/$n/moves/1/runs", $order, 422);
                self::assertStringNotContainsString('nobody', $this->text($refusal, 'detail'), $kind::name());
            }
        }
        $told = [];
        foreach ($may as $act => $why) {
            self::assertTrue(null === $why || is_string($why));
            $told[(string) $act] = $why;
        }

        return $told;
    }
}
