<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Demo\DemoShop;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Origin;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;

/** A phone that holds chats already: replaced knowingly, kept before, and put back to the last byte. */
final class PutBackTest extends ApiTestCase
{
    public function testChatsAreReplacedOnlyInTheNumbersThatWereSeenAndPutBackToTheLastByte(): void
    {
        [$n, $before, $messages] = $this->converted();
        $runs = "/api/trays/$n/moves/1/runs";
        self::assertSame('Holds chats already', $this->text($this->tray($n), 'waits', 'text'));
        $order = ['kind' => 'restore', 'confirmed_tag' => "$n-B"];
        foreach ([[], ['replaces' => 0], ['replaces' => $messages - 1], ['replaces' => $messages + 1]] as $seen) {
            $refused = $this->call('POST', $runs, $seen + $order, 422);
            self::assertStringContainsString('nobody has agreed', $this->text($refused, 'detail'));
        }
        $this->call('POST', $runs, ['replaces' => -1] + $order, 422);
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        $this->askAndWork($n, ['replaces' => $messages] + $order);
        $move = $this->move($n);
        self::assertSame('hand_over', $move['stage'], (string) json_encode($move));
        self::assertTrue($this->value($move, 'arrival', 'complete'));
        self::assertSame($messages, $this->value($move, 'safety_copy', 'messages'));
        [$copy] = $this->safetyCopies();
        self::getContainer()->get(Vault::class)->verify($copy->id);
        self::assertSame($before, $this->pulled($copy->id));

        $restored = self::contents($this->receiving->data('otterpost'));
        self::assertNotSame($before, $restored);
        $this->call('POST', $runs, ['kind' => 'put_back', 'confirmed_tag' => "$n-A"], 422);
        $this->call('POST', $runs, ['kind' => 'put_back'], 422);
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        $move = $this->move($n);
        self::assertSame(
            ['restore', null, null, null],
            [$move['stage'], $move['restored_at'], $move['arrival'], $move['safety_copy']],
        );
        self::assertStringContainsString(
            "Phone $n-B put back to what it held before, $messages messages",
            (string) json_encode($this->tray($n)['steps'], \JSON_UNESCAPED_SLASHES),
        );
        // What was on it in between was kept too.
        self::assertCount(2, $this->safetyCopies());
        $refused = $this->call('POST', $runs, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"], 422);
        self::assertStringContainsString('nothing to put back', $this->text($refused, 'detail'));

        // It can be brought once more.
        $this->look();
        $this->askAndWork($n, ['replaces' => $messages] + $order);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
        self::assertSame($restored, self::contents($this->receiving->data('otterpost')));
        // The customer is told of all that the shop keeps.
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertCount(3, $kept = $this->safetyCopies());
        foreach ($kept as $one) {
            self::assertStringContainsString($one->id, $sheet);
        }
        $this->handOver($n);
        // Whatever points at what: a demonstration that is made anew lets go of all of it.
        self::getContainer()->get(DemoShop::class)->clear();
        self::assertSame([], $this->safetyCopies());
    }

    public function testAnEmptyPhoneIsPutBackToo(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $before = self::contents($this->receiving->data('otterpost'));
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame(0, $this->value($this->move($n), 'safety_copy', 'messages'));
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
    }

    public function testWhereverTheCableGoesThePhoneIsAsItWasOrAsItIsMeantToBe(): void
    {
        [$n, $before, $messages] = $this->converted();
        $order = ['kind' => 'restore', 'confirmed_tag' => "$n-B", 'replaces' => $messages];
        $steps = [['pull', 20_000], ['pull', 120_000], ['push', 10_000], ['push', 200_000]];
        $this->call('POST', "/api/trays/$n/moves/1/runs", $order, 202);
        foreach ($steps as [$on, $bytes]) {
            Phones::plan($this->receiving, ['on' => $on, 'do' => 'unplug', 'after_bytes' => $bytes]);
            $this->work(1);
            self::assertSame('waiting', $this->value($this->move($n), 'run', 'state'), "$on $bytes");
            self::assertSame($before, self::contents($this->receiving->data('otterpost')), "$on $bytes");
            Phones::plug($this->receiving);
        }
        $this->work();
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
        $restored = self::contents($this->receiving->data('otterpost'));
        $this->call(
            'POST', "/api/trays/$n/moves/1/runs", ['kind' => 'put_back', 'confirmed_tag' => "$n-B"], 202,
        );
        foreach ($steps as [$on, $bytes]) {
            Phones::plan($this->receiving, ['on' => $on, 'do' => 'unplug', 'after_bytes' => intdiv($bytes, 4)]);
            $this->work(1);
            self::assertSame('waiting', $this->value($this->move($n), 'run', 'state'), "back: $on $bytes");
            self::assertContains(self::contents($this->receiving->data('otterpost')), [$before, $restored]);
            Phones::plug($this->receiving);
        }
        $this->work();
        self::assertSame('done', $this->value($this->move($n), 'run', 'state'));
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
    }

    public function testNothingIsWrittenWhereNotAllCouldBeKept(): void
    {
        [$n, $before, $messages] = $this->converted();
        $parcels = Folder::files($this->receiving->data('otterpost'), 'Parcels');
        $path = $parcels->current();
        self::assertIsString($path);
        Phones::plan($this->receiving, ['on' => 'read', 'do' => 'error', 'path' => $path, 'after_bytes' => 10]);
        $order = ['kind' => 'restore', 'confirmed_tag' => "$n-B", 'replaces' => $messages];
        $this->call('POST', "/api/trays/$n/moves/1/runs", $order, 202);
        $this->work();
        self::assertSame('failed', $this->value($this->move($n), 'run', 'state'));
        self::assertStringContainsString('can’t read', $this->text($this->move($n), 'run', 'trouble'));
        $this->receiving->change(static fn (array $s): array => ['faults' => []] + $s);
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
    }

    public function testARestoreThatIsCancelledLeavesNoCopyOfWhatThePhoneHeld(): void
    {
        [$n, $before, $messages] = $this->converted();
        $order = ['kind' => 'restore', 'confirmed_tag' => "$n-B", 'replaces' => $messages];
        $this->call('POST', "/api/trays/$n/moves/1/runs", $order, 202);
        Phones::plan($this->receiving, ['on' => 'push', 'do' => 'unplug', 'after_bytes' => 50_000]);
        $this->work(1);
        self::assertCount(1, $this->safetyCopies());
        Phones::plug($this->receiving);
        $id = $this->text($this->move($n), 'run', 'id');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/cancel", null, 202);
        $this->work();
        self::assertSame('cancelled', $this->value($this->move($n), 'run', 'state'));
        self::assertSame([], $this->safetyCopies());
        $backups = self::getContainer()->get(DataFolder::class)->backups();
        self::assertCount(1, glob($backups.'/*') ?: [], 'The backup of the giving phone alone.');
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
    }

    public function testWhatWasAgreedToOtherwiseIsAskedForAnewAndNotGoneOnWith(): void
    {
        [$n, , $messages] = $this->converted();
        $order = ['kind' => 'restore', 'confirmed_tag' => "$n-B"];
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['replaces' => $messages] + $order, 202);
        $this->layReceiving(messages: 70);
        $this->work();
        $run = $this->value($this->move($n), 'run');
        self::assertIsArray($run);
        self::assertSame(['failed', ['cancel']], [$run['state'], $run['may']]);
        self::assertStringContainsString('nobody has agreed', $this->text($run, 'trouble'));
        $goOn = "/api/trays/$n/moves/1/runs/".$this->text($run, 'id').'/go-on';
        self::assertSame('run_not_standing', $this->refusal('POST', $goOn, []));
        $this->look();
        $now = $this->held($n);
        self::assertNotSame($messages, $now);
        $this->askAndWork($n, ['replaces' => $now] + $order);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
        self::assertSame($now, $this->value($this->move($n), 'safety_copy', 'messages'));
    }

    /** @return array{int, array<string, string>, int} tray, contents of the receiving phone, messages on it */
    private function converted(): array
    {
        $this->signIn();
        $this->layPhones();
        $this->layReceiving(messages: 60);
        $n = $this->openTray(laid: true);
        $before = self::contents($this->receiving->data('otterpost'));
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->look();
        $holds = $this->held($n);
        self::assertGreaterThan(20, $holds);

        return [$n, $before, $holds];
    }

    private function layReceiving(int $messages): void
    {
        $phones = self::getContainer()->get(DataFolder::class)->phones();
        Folder::remove($phones.'/'.Phones::RECEIVING);
        $this->receiving = DemoMaker::phone(
            $phones, static fn (string $line) => null, Phones::customer($messages), 13,
            [
                'serial' => Phones::RECEIVING, 'maker' => 'Maker', 'model' => 'New', 'platform' => 'ios',
                'os_version' => '18', 'developer_options' => false, 'debugging' => false, 'admitted' => true,
            ],
        );
    }

    private function held(int $n): int
    {
        $path = ['phones', 1, 'live', 'accounts', 0, 'holds', 'counts', 'messages'];
        $held = $this->value($this->tray($n), ...$path);
        self::assertIsInt($held);

        return $held;
    }

    /** @return list<Backup> */
    private function safetyCopies(): array
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();

        return array_values($entities->getRepository(Backup::class)->findBy(['origin' => Origin::SafetyCopy]));
    }

    /** @return array<array-key, mixed> */
    private function tray(int $n): array
    {
        return $this->call('GET', "/api/trays/$n");
    }
}
