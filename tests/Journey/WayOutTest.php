<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Geschenk\App\DataFolder;
use Geschenk\App\Work\Erasing;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;
use PHPUnit\Framework\Attributes\DataProvider;

/** The guards of a job, and the way out of it at every stage. */
final class WayOutTest extends ApiTestCase
{
    public function testWhileANumberIsHalfRegisteredNothingIsWrittenCheckedOrHandedOver(): void
    {
        $n = $this->converted();
        $restore = ['kind' => 'restore', 'confirmed_tag' => "$n-B"];
        $this->asks('pin');
        $before = self::contents($this->receiving->data('otterpost'));
        self::assertSame('number', $this->value($this->move($n), 'lacking', 'id'));
        $this->call('POST', "/api/trays/$n/moves/1/runs", $restore, 422);
        $this->asks(null);
        $this->call('POST', "/api/trays/$n/moves/1/runs", $restore, 202);
        // Somebody begins before the worker comes to it: it waits, and goes on by itself.
        $this->asks('code');
        $this->work(2);
        self::assertSame('waiting', $this->value($this->move($n), 'run', 'state'));
        self::assertStringContainsString('half registered', $this->text($this->move($n), 'run', 'trouble'));
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        $this->asks(null);
        $this->work();
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));

        $this->asks('pin');
        $refused = $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'check'], 422);
        self::assertStringContainsString('half registered', $this->text($refused, 'detail'));
        $open = array_column((array) $this->call('GET', "/api/trays/$n")['open'], 'text', 'id');
        self::assertArrayHasKey('number_settled otterpost', $open, 'The list names it.');
        $refused = $this->call('POST', "/api/trays/$n/hand-over", ['open' => array_keys($open)], 422);
        self::assertStringContainsString('half registered', $this->text($refused, 'detail'));
        $this->asks(null);
        $this->handOver($n);
    }

    public function testOneClickHandsNothingOverUnseen(): void
    {
        $n = $this->converted();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $open = (array) $this->call('GET', "/api/trays/$n")['open'];
        $texts = implode("\n", array_map(strval(...), array_filter(array_column($open, 'text'), is_string(...))));
        self::assertStringContainsString('not opened yet', $texts);
        self::assertStringContainsString('own eyes', $texts);
        $ids = array_column($open, 'id');
        foreach ([[], array_slice($ids, 1)] as $seen) {
            $refused = $this->call('POST', "/api/trays/$n/hand-over", ['open' => $seen], 422);
            self::assertStringContainsString('still open', $this->text($refused, 'detail'));
        }
        $this->call('POST', "/api/trays/$n/hand-over", ['open' => $ids]);
        $steps = (string) json_encode($this->call('GET', "/api/trays/$n")['steps']);
        self::assertStringContainsString('still open, after looking at the list', $steps);
    }

    /** @return iterable<string, array{string, bool}> how far it is, whether what was backed up is kept */
    public static function stages(): iterable
    {
        foreach (['opened', 'backing up', 'backed up', 'converted', 'restoring', 'restored'] as $stage) {
            yield "$stage, erased" => [$stage, false];
        }
        yield 'restoring, kept' => ['restoring', true];
        yield 'converted, kept' => ['converted', true];
    }

    #[DataProvider('stages')]
    public function testACustomerMayWithdrawAtEveryStage(string $stage, bool $keeps): void
    {
        $n = $this->upTo($stage);
        $before = self::contents($this->receiving->data('otterpost'));
        $gives = Phones::fingerprint($this->giving->data('otterpost'));
        self::assertSame(
            'wrong_number', $this->refusal('POST', "/api/trays/$n/withdraw", ['number' => '4', 'keep' => true]),
        );
        $tray = $this->call('POST', "/api/trays/$n/withdraw", ['number' => "$n", 'keep' => $keeps]);
        self::assertSame([true, true], [$tray['closed'], $tray['withdrawn']]);
        Phones::plug($this->giving);
        Phones::plug($this->receiving);
        $this->watch();
        $this->work();
        self::getContainer()->get(Erasing::class)->do($n);
        // What was under way is undone.
        $incoming = $this->receiving->path.'/incoming';
        self::assertSame([], is_dir($incoming) ? iterator_to_array(Folder::files($incoming), false) : []);
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        self::assertSame($gives, Phones::fingerprint($this->giving->data('otterpost')));
        $left = glob(self::getContainer()->get(DataFolder::class)->backups().'/*') ?: [];
        $keeping = (array) $this->value($this->call('GET', "/api/trays/$n"), 'keeping');
        $keeps ? self::assertNotSame([], $left) : self::assertSame([], $left);
        self::assertSame(!$keeps, null !== $keeping['erased_at'], (string) json_encode($keeping));
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertStringContainsString(
            'ended without a hand-over', (string) $this->browser->getResponse()->getContent(),
        );
        self::assertSame('handed_over_already', $this->refusal(
            'POST', "/api/trays/$n/withdraw", ['number' => "$n", 'keep' => true],
        ));
        // The phones are free.
        self::assertNotSame($n, $this->openTray(laid: true));
    }

    public function testWhatWasWrittenDownWronglyCanBeCorrected(): void
    {
        $n = $this->upTo('opened');
        $told = ['customer' => 'Test Persson', 'contact' => 'the mill', 'language' => 'de'];
        $tray = $this->call('PUT', "/api/trays/$n/customer", $told);
        self::assertSame(array_values($told), [$tray['customer'], $tray['contact'], $tray['language']]);
        $this->call('PUT', "/api/trays/$n/customer", ['customer' => ' '] + $told, 422);
        $this->call('POST', "/api/trays/$n/withdraw", ['number' => "$n", 'keep' => true]);
        self::assertSame('tray_closed', $this->refusal('PUT', "/api/trays/$n/customer", $told));
    }

    private function converted(): int
    {
        return $this->upTo('converted');
    }

    private function upTo(string $stage): int
    {
        $this->signIn();
        $n = $this->openTray();
        if ('opened' === $stage) {
            return $n;
        }
        if ('backing up' === $stage) {
            Phones::plan($this->giving, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 40_000]);
        }
        $this->askAndWork($n, ['kind' => 'backup']);
        if (in_array($stage, ['backing up', 'backed up'], true)) {
            return $n;
        }
        $this->askAndWork($n, ['kind' => 'conversion']);
        if ('converted' === $stage) {
            return $n;
        }
        if ('restoring' === $stage) {
            Phones::plan($this->receiving, ['on' => 'push', 'do' => 'unplug', 'after_bytes' => 200_000]);
        }
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);

        return $n;
    }

    /** @param string|null $wants what the messenger asks for while a number is registered in it */
    private function asks(?string $wants): void
    {
        $this->receiving->change(static fn (array $s): array => ['apps' => array_map(
            static fn (array $app): array => ['sign_up' => null === $wants ? null : [
                'number' => Phones::NUMBER, 'wants' => $wants, 'asked' => [], 'tries' => 0,
            ]] + $app, $s['apps'],
        )] + $s);
        $this->watch();
    }
}
