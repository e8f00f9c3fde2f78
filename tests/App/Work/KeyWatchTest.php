<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Work\KeyWatch;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Console;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use Symfony\Component\Clock\Clock;
use Symfony\Component\Clock\MockClock;

/** What a customer told is there for as long as it is needed, and nowhere after that. */
final class KeyWatchTest extends ApiTestCase
{
    use Scratch;

    public function testAKeyThatWaitsIsGoneAfterAnHour(): void
    {
        $clock = new MockClock('2026-11-26 10:00:00', 'UTC');
        Clock::set($clock);
        $this->signIn();
        $tray = $this->openTray();
        Phones::seal($this->giving, 'low tide at six');
        $this->call('POST', "/api/trays/$tray/moves/1/runs", ['kind' => 'backup', 'key' => 'low tide at six'], 202);
        $watch = self::getContainer()->get(KeyWatch::class);
        $clock->sleep(KeyWatch::LONGEST - 10);
        $watch->round();
        self::assertNotNull($this->lastRun()->lockedKey());
        $clock->sleep(20);
        $watch->round();
        self::assertNull($this->lastRun()->lockedKey());
        self::assertSame(RunState::Failed, $this->lastRun()->state());
        // Nobody has touched the page for as long.
        $this->signIn();
        self::assertStringContainsString(
            'Ask for it again', $this->text($this->call('GET', "/api/trays/$tray"), 'moves', 0, 'run', 'trouble'),
        );
        // It is told again, and used.
        $id = $this->lastRun()->id;
        $this->call('POST', "/api/trays/$tray/moves/1/runs/$id/go-on", ['key' => 'low tide at six'], 202);
        $this->work();
        self::assertSame([RunState::Done, null], [$this->lastRun()->state(), $this->lastRun()->lockedKey()]);
    }

    public function testNothingOfItIsLeftInAnyFileOfTheDatabase(): void
    {
        $this->console('doctrine:migrations:migrate', '--no-interaction');
        $told = bin2hex(random_bytes(40));
        $database = new \SQLite3($this->path('shop.sqlite'));
        $database->exec("PRAGMA journal_mode = WAL; INSERT INTO guess VALUES ('$told', 1, 1)");
        self::assertStringContainsString($told, $this->everything());
        $database->exec("DELETE FROM guess WHERE subject = '$told'");
        self::assertStringContainsString($told, $this->everything(), 'deleted, and there all the same');
        $this->console('shop:watch', '--once');
        self::assertStringNotContainsString($told, $this->everything());
        $database->close();
    }

    private function lastRun(): Run
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();

        return $entities->getRepository(Run::class)->findOneBy([], ['counter' => 'DESC']) ?? self::fail();
    }

    private function everything(): string
    {
        return implode('', array_map(
            static fn (string $file): string => (string) file_get_contents($file),
            glob($this->path('shop.sqlite*')) ?: [],
        ));
    }

    private function console(string ...$words): void
    {
        [$code, $said] = Console::run($this->path(), array_values($words));
        self::assertSame(0, $code, $said);
    }
}
