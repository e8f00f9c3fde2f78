<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\BenchWatch;
use Geschenk\App\Bench\LookAtPhone;
use Geschenk\App\Bench\LookAtPhoneHandler;
use Geschenk\App\Bench\Looks;
use Geschenk\App\Bench\Phones as SeenPhones;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Entity\LogEntry;
use Geschenk\App\Records;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Standin\Phone\Bench;
use Geschenk\Tests\Support\Phones;
use Psr\Log\NullLogger;
use Symfony\Component\Clock\MockClock;
use Symfony\Component\Messenger\MessageBusInterface;

/** A phone is looked into for a tray alone, whose owner consents; and that is in the log. */
final class ConsentTest extends ApiTestCase
{
    public function testOfAPhoneInNoTrayTheStateAloneIsAskedFor(): void
    {
        $this->signIn();
        $this->layPhones();
        $container = self::getContainer();
        $real = new Bench($container->get(DataFolder::class)->phones());
        // Whatever else than its state and its name is asked for fails the test.
        $link = $this->createMock(PhoneLink::class);
        foreach (['files', 'pull'] as $method) {
            $link->expects(self::never())->method($method);
        }
        $link->expects(self::exactly(2))->method('state')
            ->willReturn($real->link(Phones::GIVING)->state(), $real->link(Phones::RECEIVING)->state());
        $directory = $this->createMock(PhoneDirectory::class);
        $directory->method('serials')->willReturn([Phones::GIVING, Phones::RECEIVING]);
        $directory->method('link')->willReturn($link);
        (new BenchWatch(
            $directory, $container->get(Looks::class), $container->get(SeenPhones::class), new Formats(),
            $container->get(EntityManagerInterface::class), $container->get(Records::class),
            $container->get(MessageBusInterface::class),
            new MockClock(), new NullLogger(),
        ))->round();
        self::assertSame([], $this->holdings());
        self::assertNull($this->holds(Phones::GIVING));
    }

    public function testALookThatIsAskedForAllTheSameReadsNothing(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->watch();
        self::getContainer()->get(LookAtPhoneHandler::class)(new LookAtPhone(Phones::GIVING, 'otterpost'));
        self::assertSame([], $this->holdings());
        self::assertSame([], $this->looksInTheLog());
    }

    public function testItIsLoggedBeforeTheFirstLookAndEndsWithTheHandOver(): void
    {
        $this->signIn();
        $n = $this->openTray();
        self::assertSame([], $this->looksInTheLog());
        $this->watch();
        $noted = [[$n, 'bench', Phones::GIVING], [$n, 'bench', Phones::RECEIVING]];
        self::assertSame($noted, $this->looksInTheLog());
        $this->look();
        $this->look();
        self::assertSame($noted, $this->looksInTheLog(), 'Once a phone and messenger.');
        self::assertGreaterThan(50, $this->value((array) $this->holds(Phones::GIVING), 'counts', 'messages'));

        foreach ([['kind' => 'backup'], ['kind' => 'conversion']] as $asked) {
            $this->askAndWork($n, $asked);
        }
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);
        self::assertSame([], $this->holdings());
        self::getContainer()->get(LookAtPhoneHandler::class)(new LookAtPhone(Phones::GIVING, 'otterpost'));
        $this->look();
        self::assertNull($this->holds(Phones::GIVING));
        $closed = $this->call('GET', "/api/trays/$n");
        self::assertNull($this->value($closed, 'phones', 0, 'live', 'accounts', 0, 'holds'));
        self::assertCount(2, $this->looksInTheLog());

        // Another customer's tray is another consent.
        $next = $this->openTray();
        $this->look();
        self::assertCount(4, $this->looksInTheLog());
        self::assertSame($next, $this->looksInTheLog()[2][0]);
    }

    public function testSwappedRolesAreDoubtedOnceTheTrayIsOpen(): void
    {
        $this->signIn();
        $n = $this->openTray();
        self::assertNull($this->direction($n));
        $this->look();
        self::assertSame(
            ['Both phones are ready: back up', null],
            [$this->value($this->call('GET', "/api/trays/$n"), 'waits', 'text'), $this->direction($n)],
        );
        $this->call('PUT', "/api/trays/$n/roles", ['giving_tag' => "$n-B"]);
        self::assertStringContainsString("$n-B gives and holds no chats", (string) $this->direction($n));
        $waits = $this->call('GET', "/api/trays/$n")['waits'];
        self::assertIsArray($waits);
        self::assertSame(['person', "$n-B", 'Are the roles swapped?'], [$waits['for'], $waits['tag'], $waits['text']]);
        $this->call('PUT', "/api/trays/$n/roles", ['giving_tag' => "$n-A"]);
        self::assertNull($this->direction($n));
    }

    private function direction(int $n): ?string
    {
        $said = $this->call('GET', "/api/trays/$n")['direction'];

        return is_string($said) ? $said : null;
    }

    /** @return list<string> */
    private function holdings(): array
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();

        return array_map(
            static fn (Holding $h): string => $h->serial, $entities->getRepository(Holding::class)->findAll(),
        );
    }

    private function holds(string $serial): mixed
    {
        foreach ((array) $this->call('GET', '/api/phones')['phones'] as $phone) {
            if (is_array($phone) && $serial === $this->value($phone, 'live', 'serial')) {
                return $this->value($phone, 'live', 'accounts', 0, 'holds');
            }
        }
        self::fail("$serial is not on the bench.");
    }

    /** @return list<array{int|null, string, mixed}> tray, who, serial */
    private function looksInTheLog(): array
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();
        $entries = $entities->getRepository(LogEntry::class)->findBy(['act' => 'looked_into'], ['id' => 'ASC']);

        return array_map(
            static fn (LogEntry $e): array => [$e->trayNumber, $e->by, $e->params['serial'] ?? null], $entries,
        );
    }
}
