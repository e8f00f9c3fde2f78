<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Origin;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\IncomingMessage;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;

/** Chats are merged with those that the receiving phone holds: rehearsed, in numbers, checked, and undone if wanted. */
final class MergingTest extends ApiTestCase
{
    public function testBothAreThereAfterwardsAndTheWayBackStaysOpen(): void
    {
        [$n, $before, $holds] = $this->backedUp();
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => true]);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $move = $this->move($n);
        self::assertSame('restore', $move['stage'], (string) json_encode($move));
        $merge = self::numbers($move['merge']);
        self::assertSame($holds, $merge['there'] + $merge['both'] + $merge['dropped']);
        $brought = self::numbers($move['backup'])['messages'];
        $leftOut = self::numbers($move['rehearsal'])['left_out'];
        self::assertSame($brought, $merge['brought'] + $merge['both'] + $leftOut);
        self::assertFalse($this->value($move, 'merge', 'stale'));
        self::assertSame($before, self::contents($this->receiving->data('otterpost')), 'Only rehearsed.');
        self::assertCount(1, $this->safetyCopies());
        self::assertStringContainsString(
            'the merge adds up', $this->text($this->call('GET', "/api/trays/$n"), 'waits', 'text'),
        );

        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $move = $this->move($n);
        self::assertTrue($this->value($move, 'arrival', 'complete'), (string) json_encode($move));
        $totals = self::numbers($move['arrival']);
        self::assertSame($merge['there'], $totals['kept']);
        self::assertSame($brought, $totals['messages'], 'The sum is that of the backup.');
        $this->look();
        $counts = (array) $this->value(
            $this->call('GET', "/api/trays/$n"), 'phones', 1, 'live', 'accounts', 0, 'holds', 'counts',
        );
        self::assertSame(
            $merge['brought'] + $merge['there'] + $merge['both'] + $totals['added'], $counts['messages'],
        );
        self::assertCount(1, $this->safetyCopies(), 'The copy that was merged with is the way back.');

        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        // It is to be merged anew, for the phone holds what it held; nothing is said to have come in.
        $this->look();
        $move = $this->move($n);
        self::assertSame(['choose', true, null], [$move['stage'], $move['merges'], $move['merge']]);
        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertSame($merge, array_intersect_key(self::numbers($this->move($n)['merge']), $merge));
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
    }

    public function testWhatCameInSinceIsMergedAnewAndNothingIsWrittenBefore(): void
    {
        [$n] = $this->backedUp('android');
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => true]);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $there = self::numbers($this->move($n)['merge'])['there'];
        IncomingMessage::comes($this->receiving, 'otterpost');
        $before = self::contents($this->receiving->data('otterpost'));
        // Before the watch has seen it the worker does.
        $this->isWatched = false;
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->isWatched = true;
        self::assertSame('failed', $this->value($this->move($n), 'run', 'state'));
        self::assertStringContainsString('come in on the receiving', $this->text($this->move($n), 'run', 'trouble'));
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        $this->look();
        $move = $this->move($n);
        self::assertTrue($this->value($move, 'merge', 'stale'));
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'restore', 'confirmed_tag' => "$n-B"], 422);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $move = $this->move($n);
        self::assertSame($there + 1, $this->value($move, 'merge', 'there'));
        self::assertCount(1, $this->safetyCopies(), 'The copy of what is no more there is gone.');
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
    }

    public function testTheCableMayGoWhileWhatIsThereIsCopied(): void
    {
        [$n, $before] = $this->backedUp();
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => true]);
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'conversion'], 202);
        Phones::plan($this->receiving, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 60_000]);
        $this->work(1);
        self::assertSame('waiting', $this->value($this->move($n), 'run', 'state'));
        Phones::plug($this->receiving);
        $this->work();
        self::assertSame('restore', $this->move($n)['stage']);
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        self::assertCount(1, $this->safetyCopies());
    }

    public function testMergingOnceMoreChangesNothing(): void
    {
        [$n] = $this->backedUp();
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => true]);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $merged = self::contents($this->receiving->data('otterpost'));
        // The same phones come back another day.
        $this->handOver($n);
        $again = $this->openTray(laid: true);
        $this->askAndWork($again, ['kind' => 'backup']);
        $this->look();
        $this->call('PUT', "/api/trays/$again/moves/1/scope", ['merges' => true]);
        $this->askAndWork($again, ['kind' => 'conversion']);
        $merge = self::numbers($this->move($again)['merge']);
        self::assertSame([0, 0], [$merge['brought'], $merge['settled']]);
        $this->askAndWork($again, ['kind' => 'restore', 'confirmed_tag' => "$again-B"]);
        self::assertTrue($this->value($this->move($again), 'arrival', 'complete'));
        $files = static fn (array $contents): array => array_values(array_filter(
            $contents, static fn (string $path): bool => !str_contains($path, 'Pouch'), \ARRAY_FILTER_USE_KEY,
        ));
        self::assertCount(count($merged), self::contents($this->receiving->data('otterpost')), 'No file is doubled.');
        self::assertEqualsCanonicalizing(
            $files($merged), $files(self::contents($this->receiving->data('otterpost'))),
        );
    }

    /** @return array{int, array<string, string>, int} tray, contents of the receiving phone, messages on it */
    private function backedUp(string $platform = 'ios'): array
    {
        $this->signIn();
        $this->layPhones();
        $this->receiving = DemoMaker::phone(
            self::getContainer()->get(DataFolder::class)->phones(), static fn (string $line) => null,
            Phones::customer(60), 13,
            [
                'serial' => Phones::RECEIVING, 'maker' => 'Maker', 'model' => 'New', 'platform' => $platform,
                'os_version' => 'ios' === $platform ? '18' : '14', 'developer_options' => 'android' === $platform,
                'debugging' => 'android' === $platform, 'admitted' => true,
            ],
        );
        $n = $this->openTray(laid: true);
        $before = self::contents($this->receiving->data('otterpost'));
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->look();
        $holds = $this->value(
            $this->call('GET', "/api/trays/$n"), 'phones', 1, 'live', 'accounts', 0, 'holds', 'counts', 'messages',
        );
        self::assertIsInt($holds);

        return [$n, $before, $holds];
    }

    /** @return array<string, int> those of the values that are numbers */
    private static function numbers(mixed $values): array
    {
        $numbers = [];
        foreach ((array) $values as $name => $value) {
            if (is_int($value)) {
                $numbers[(string) $name] = $value;
            }
        }

        return $numbers;
    }

    /** @return list<Backup> */
    private function safetyCopies(): array
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();

        return array_values($entities->getRepository(Backup::class)->findBy(['origin' => Origin::SafetyCopy]));
    }
}
