<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\BenchWatch;
use Geschenk\App\Bench\Looks;
use Geschenk\App\Bench\Phones as SeenPhones;
use Geschenk\App\DataFolder;
use Geschenk\App\Files\Leftovers;
use Geschenk\App\Records;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\Words\Words;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\WayIn\Ways;
use Geschenk\Standin\Phone\Bench;
use Geschenk\Tests\Support\Phones;
use Psr\Log\AbstractLogger;
use Symfony\Component\Clock\MockClock;
use Symfony\Component\Messenger\MessageBusInterface;

/** What the watch sees, and what it puts right. */
final class WatchTest extends ApiTestCase
{
    public function testAPhoneThatCanNotBeLookedAtGrowsOldAndIsLoggedOnce(): void
    {
        $this->layPhones();
        $bench = new Bench(self::getContainer()->get(DataFolder::class)->phones());
        $directory = new class($bench) implements PhoneDirectory {
            public bool $isBroken = false;

            public function __construct(private readonly Bench $bench)
            {
            }

            public function serials(): array
            {
                return $this->bench->serials();
            }

            public function link(string $serial): PhoneLink
            {
                return $this->isBroken && Phones::GIVING === $serial
                    ? throw new \RuntimeException('Nobody foresaw this.')
                    : $this->bench->link($serial);
            }
        };
        $logger = new class extends AbstractLogger {
            public int $count = 0;

            public function log($level, string|\Stringable $message, array $context = []): void
            {
                ++$this->count;
            }
        };
        $clock = new MockClock('2026-11-26 10:00:00');
        $container = self::getContainer();
        $watch = static fn (): BenchWatch => new BenchWatch(
            $directory, $container->get(Looks::class),
            $container->get(SeenPhones::class), new Formats(),
            $container->get(EntityManagerInterface::class), $container->get(Records::class),
            $container->get(MessageBusInterface::class), $clock, $logger,
        );
        $watch()->round();
        $directory->isBroken = true;
        $clock->sleep(60);
        $later = $watch();
        $later->round();
        $later->round();
        self::assertSame(1, $logger->count);
        $container->get(EntityManagerInterface::class)->clear();
        $seen = new SeenPhones(
            $container->get(EntityManagerInterface::class), $clock, $container->get(Kinds::class),
            $container->get(Ways::class),
        );
        $giving = $seen->find(Phones::GIVING);
        $receiving = $seen->find(Phones::RECEIVING);
        self::assertNotNull($giving);
        self::assertNotNull($receiving);
        self::assertSame([false, true], [$seen->isFresh($giving), $seen->isFresh($receiving)]);
        $directory->isBroken = false;
        $watch()->round();
        $container->get(EntityManagerInterface::class)->clear();
        self::assertTrue($seen->isFresh($seen->find(Phones::GIVING) ?? self::fail()));
    }

    /** What is as it was is not written once more; what somebody else has changed is put right all the same. */
    public function testWhereNothingGoesOnNothingIsWritten(): void
    {
        $this->signIn();
        $this->layPhones();
        $container = self::getContainer();
        $watch = $container->get(BenchWatch::class);
        $records = $container->get(Records::class);
        $watch->round();
        $watch->round();
        $before = $records->state();
        $watch->round();
        self::assertSame($before, $records->state());
        $connection = $container->get(EntityManagerInterface::class)->getConnection();
        $connection->executeStatement('UPDATE phone SET on_bench = 0');
        $watch->round();
        self::assertSame(2, $connection->fetchOne('SELECT COUNT(*) FROM phone WHERE on_bench = 1'));
        $this->giving->change(static fn (array $state): array => ['battery' => 12] + $state);
        $watch->round();
        self::assertSame(12, $container->get(SeenPhones::class)->state(Phones::GIVING)?->battery);
        // A phone that has gone, and one that has come.
        Folder::remove($this->giving->path);
        Phones::receiving(dirname($this->giving->path), ['serial' => 'RECEIVES2']);
        $watch->round();
        self::assertSame(['RECEIVES1', 'RECEIVES2'], $connection->fetchFirstColumn(
            'SELECT serial FROM phone WHERE on_bench = 1 ORDER BY serial',
        ));
    }

    public function testCopiesThatAPowerCutLeftAfterTheHandOverAreDropped(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $leftovers = self::getContainer()->get(Leftovers::class);
        $converted = self::getContainer()->get(DataFolder::class)->tray($n).'/moves/1/conversion.sealed';
        $leftovers->dropAll();
        self::assertDirectoryExists($converted, 'That of an open tray is needed.');
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);
        self::assertDirectoryDoesNotExist($converted);
        Folder::make($converted);
        file_put_contents($converted.'/store.db', 'chats');
        $leftovers->dropAll();
        self::assertDirectoryDoesNotExist($converted);
        // Somebody looked into it when it was handed over: not only whoever starts the watch anew drops it.
        Folder::make($converted);
        $leftovers->dropOfLately();
        self::assertDirectoryDoesNotExist($converted);
    }

    public function testOnlyAPlaceOfOursIsNamedInWords(): void
    {
        $words = self::getContainer()->get(Words::class);
        self::assertStringContainsString('phone', $words->failure('not_messenger_data', ['path' => '@phone_data']));
        self::assertStringNotContainsString('@', $words->failure('not_messenger_data', ['path' => '@phone_data']));
        // The title of a conversation is what a stranger's phone says.
        self::assertStringContainsString('“@phone_data”', $words->say('log.uncovered', [
            'title' => '@phone_data', 'edition' => 'Otterpost', 'serial' => 'X',
        ]));
    }
}
