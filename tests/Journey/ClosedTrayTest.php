<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Files\Leftovers;
use Geschenk\App\Work\Erasing;
use Geschenk\App\Work\PutBack\PutBackKind;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;

/** What goes on behind the hand-over is not forgotten, holds its phone, and nobody throws away what it works on. */
final class ClosedTrayTest extends ApiTestCase
{
    public function testAPuttingBackBehindTheHandOverThatLosesItsPhoneGoesOnByItself(): void
    {
        [$n, $before] = $this->handedOver();
        $this->interruptPuttingBack($n);
        // The phone is not free meanwhile.
        $this->ensureNotFree($n);
        Phones::plug($this->receiving);
        $this->watch();
        $this->work();
        self::assertSame('done', $this->value($this->move($n), 'run', 'state'));
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        // Now it is.
        $this->call('POST', '/api/trays', $this->another(), 201);
    }

    public function testAPuttingBackThatRestsHoldsItsPhoneUntilItIsCancelled(): void
    {
        [$n] = $this->handedOver();
        $this->interruptPuttingBack($n);
        $id = $this->text($this->move($n), 'run', 'id');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/pause", null, 202);
        Phones::plug($this->receiving);
        $this->ensureNotFree($n);
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/cancel", null, 202);
        $this->work();
        $restored = self::contents($this->receiving->data('otterpost'));
        $other = $this->call('POST', '/api/trays', $this->another(), 201);
        // Nobody writes to it from the tray that was handed over.
        $order = ['kind' => 'put_back', 'confirmed_tag' => "$n-B"];
        self::assertSame('in_other_tray', $this->refusal('POST', "/api/trays/$n/moves/1/runs", $order));
        $this->entities()->getConnection()->executeStatement("UPDATE run SET state = 'paused' WHERE id = ?", [$id]);
        $this->entities()->clear();
        self::assertSame(
            'in_other_tray', $this->refusal('POST', "/api/trays/$n/moves/1/runs/$id/go-on", []),
            'Not by going on, either: it lies in '.json_encode($other['number']),
        );
        self::assertSame($restored, self::contents($this->receiving->data('otterpost')));
    }

    public function testTheWatchLeavesAloneWhatAPuttingBackHasCopied(): void
    {
        [$n] = $this->handedOver();
        $this->interruptPuttingBack($n);
        $run = $this->entities()->getRepository(Run::class)->findOneBy(['kind' => PutBackKind::name()]) ?? self::fail();
        $begun = self::getContainer()->get(DataFolder::class)->backups().'/'.$run->safetyCopyId().'.part';
        $copied = iterator_to_array(Folder::files($begun), false);
        self::assertNotEmpty($copied);
        $leftovers = self::getContainer()->get(Leftovers::class);
        $leftovers->dropAll();
        self::assertSame($copied, iterator_to_array(Folder::files($begun), false));
        // Nor what somebody works on at this moment, whatever the record says of it.
        $this->entities()->getConnection()->executeStatement("UPDATE run SET state = 'cancelled'");
        $this->entities()->clear();
        $run = $this->entities()->getRepository(Run::class)->findOneBy(['kind' => PutBackKind::name()]) ?? self::fail();
        $lock = self::getContainer()->get(WorkLocks::class)->ofMove($run->move());
        self::assertTrue($lock->acquire());
        $leftovers->dropAll();
        self::assertSame($copied, iterator_to_array(Folder::files($begun), false));
        $this->call('POST', "/api/trays/$n/erase", ['number' => "$n"], 202);
        self::getContainer()->get(Erasing::class)->do($n);
        self::assertSame($copied, iterator_to_array(Folder::files($begun), false), 'Erasing waits for it too.');
        $lock->release();
        $leftovers->dropAll();
        self::assertDirectoryExists($begun, 'What is to be erased is erasing’s affair.');
        self::getContainer()->get(Erasing::class)->do($n);
        self::assertDirectoryDoesNotExist($begun);
    }

    public function testNoPhoneLeavesWithChatsThatWereOnlyStagedOnIt(): void
    {
        $n = $this->converted();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        // Once more, from another conversion, and cancelled while the phone is away.
        $this->entities()->getConnection()->executeStatement('UPDATE bringing SET restored_at = NULL');
        $this->look();
        $holds = $this->value($this->call('GET', "/api/trays/$n"), 'phones', 1, 'live', 'accounts', 0, 'holds');
        $order = [
            'kind' => 'restore', 'confirmed_tag' => "$n-B",
            'replaces' => $this->value((array) $holds, 'counts', 'messages'),
        ];
        Phones::plan($this->receiving, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 60_000]);
        $this->call('POST', "/api/trays/$n/moves/1/runs", $order, 202);
        $this->work(2);
        $id = $this->text($this->move($n), 'run', 'id');
        file_put_contents(Folder::make($this->receiving->stage('otterpost', $id)).'/chats', 'what was staged');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/pause", null, 202);
        $refused = $this->call('POST', "/api/trays/$n/hand-over", null, 422);
        self::assertStringContainsString("On $n-B the restore stands still", $this->text($refused, 'detail'));
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/cancel", null, 202);
        $this->work(1);
        $refused = $this->call('POST', "/api/trays/$n/hand-over", null, 422);
        self::assertStringContainsString("$n-B still holds what was copied to it", $this->text($refused, 'detail'));
        self::assertDirectoryExists($this->receiving->stage('otterpost', $id));
        Phones::plug($this->receiving);
        $this->watch();
        $this->work(1);
        self::assertDirectoryDoesNotExist($this->receiving->stage('otterpost', $id));
        $this->handOver($n);
    }

    public function testWhatARunHasStagedIsRemovedWhenAnotherTakesItsPlace(): void
    {
        $n = $this->converted();
        Phones::plan($this->receiving, ['on' => 'push', 'do' => 'unplug', 'after_bytes' => 200_000]);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $id = $this->text($this->move($n), 'run', 'id');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/pause", null, 202);
        Phones::plug($this->receiving);
        self::assertDirectoryExists($this->receiving->stage('otterpost', $id));
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'conversion'], 202);
        $this->work();
        self::assertDirectoryDoesNotExist($this->receiving->stage('otterpost', $id));
        self::assertSame(['conversion', 'done'], [
            $this->value($this->move($n), 'run', 'kind'), $this->value($this->move($n), 'run', 'state'),
        ]);
        $first = $this->entities()->find(Run::class, $id);
        self::assertSame([RunState::Cancelled, false], [$first?->state(), $first?->hasLeftOnPhone()]);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
    }

    public function testACancelledMergeLeavesNothingOfTheReceivingPhoneOnTheShopsDisk(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->receiving = DemoMaker::phone(
            self::getContainer()->get(DataFolder::class)->phones(), static fn (string $line) => null,
            Phones::customer(60), 13,
            [
                'serial' => Phones::RECEIVING, 'maker' => 'Maker', 'model' => 'New', 'platform' => 'ios',
                'os_version' => '18', 'developer_options' => false, 'debugging' => false, 'admitted' => true,
            ],
        );
        $n = $this->openTray(laid: true);
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['scope' => null, 'merges' => true]);
        Phones::plan($this->receiving, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 60_000]);
        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertSame('waiting', $this->value($this->move($n), 'run', 'state'));
        $id = $this->text($this->move($n), 'run', 'id');
        $backups = self::getContainer()->get(DataFolder::class)->backups();
        self::assertCount(2, glob($backups.'/*') ?: [], 'Part of the receiving phone beside the backup.');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$id/cancel", null, 202);
        $this->work(1);
        self::assertSame('cancelled', $this->value($this->move($n), 'run', 'state'));
        self::assertCount(1, glob($backups.'/*') ?: []);
        self::assertSame(0, $this->entities()->getRepository(Backup::class)->count(['origin' => Origin::SafetyCopy]));
    }

    /** @return array<string, mixed> a tray of somebody else, who gives with the phone that received */
    private function another(): array
    {
        $folder = self::getContainer()->get(DataFolder::class)->phones();
        Phones::receiving($folder, ['serial' => 'OTHERS001']);
        $this->watch();

        return [
            'customer' => 'Somebody Else', 'contact' => 'the quay', 'consent' => true, 'giving' => Phones::RECEIVING,
            'receiving' => 'OTHERS001',
        ];
    }

    private function ensureNotFree(int $tray): void
    {
        self::assertSame('in_other_tray', $this->refusal('POST', '/api/trays', $this->another()));
        $bench = (array) $this->call('GET', '/api/phones')['phones'];
        $told = array_filter($bench, static fn (mixed $p): bool => is_array($p) && $tray === $p['tray']);
        self::assertCount(1, $told, 'The bench says where it is.');
    }

    private function interruptPuttingBack(int $n): void
    {
        Phones::plan($this->receiving, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 20_000]);
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame('waiting', $this->value($this->move($n), 'run', 'state'));
    }

    private function converted(): int
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);

        return $n;
    }

    /** @return array{int, array<string, string>} tray, and what the receiving phone held before */
    private function handedOver(): array
    {
        $n = $this->converted();
        $before = self::contents($this->receiving->data('otterpost'));
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);

        return [$n, $before];
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }
}
