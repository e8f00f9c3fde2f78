<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Times what is asked of a full cupboard. The floor is the same question to the same server's session. */
#[AsCommand('bench:cupboard', 'Measures the pages of a cupboard with many backups')]
final class BenchCupboardCommand extends Command
{
    public function __construct(#[Autowire('%kernel.project_dir%')] private readonly string $project)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('backups', null, InputOption::VALUE_REQUIRED, 'How many backups', '10000')
            ->addOption('rounds', null, InputOption::VALUE_REQUIRED, 'How often each is asked', '100');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $number = static fn (string $name): int => max(
            1, (int) filter_var($input->getOption($name), \FILTER_VALIDATE_INT),
        );
        $backups = $number('backups');
        $shop = new ServedShop($this->project, static fn (\SQLite3 $records) => self::fill($records, $backups));
        $find = static fn (string $words, string $by = 'taken', int $page = 1): array => [
            '/api/cupboard/find', ['words' => $words, 'sorted_by' => $by, 'page' => $page],
        ];
        $asked = [
            'session' => ['/api/session', null], 'first page' => $find(''),
            'last page' => $find('', 'taken', max(1, intdiv($backups, 50))), 'by name' => $find('Sam 77'),
            'by customer' => $find('', 'customer'), 'by last day' => $find('', 'until'),
            'nothing found' => $find('nobody of that name'), 'one' => ['/api/cupboard/'.self::id(1), null],
        ];
        $output->writeln("$backups backups");
        try {
            $floor = null;
            foreach ($asked as $name => [$path, $body]) {
                $times = $shop->browser->times($path, $number('rounds'), $body);
                sort($times);
                $middle = $times[intdiv(count($times), 2)];
                $floor ??= $middle;
                $output->writeln(sprintf(
                    '%-14s p50 %6.1f ms   p95 %6.1f ms   %5.2f x the floor, which is the session', $name, $middle,
                    $times[(int) floor(0.95 * (count($times) - 1))], $middle / $floor,
                ));
            }
        } finally {
            $shop->end();
        }

        return Command::SUCCESS;
    }

    private static function id(int $n): string
    {
        return sprintf('00000000-0000-4000-8000-%012d', $n);
    }

    /** A backup a tray, two trays a customer; one of ten is erased. */
    private static function fill(\SQLite3 $records, int $backups): void
    {
        for ($n = 1; $n <= $backups; ++$n) {
            $customer = intdiv($n + 1, 2);
            $taken = gmdate('Y-m-d H:i:s', 1_700_000_000 + 3_600 * $n);
            $until = gmdate('Y-m-d H:i:s', time() + 86_400 * ($n % 365));
            $erased = 0 === $n % 10 ? "'$taken'" : 'NULL';
            $seen = \SQLite3::escapeString(json_encode([
                'maker' => 'Maker', 'model' => 'Model '.($n % 40), 'platform' => 'ios', 'os_version' => '1',
                'plugged' => false, 'unlocked' => false, 'battery' => 80, 'debugging' => null, 'admitted' => false,
                'free' => null, 'apps' => null,
            ], \JSON_THROW_ON_ERROR));
            $id = self::id($n);
            $records->exec(<<<SQL
                INSERT OR IGNORE INTO customer (id, name, contact, language)
                    VALUES ($customer, 'Sam Customer $customer', 'the quay', 'en');
                INSERT INTO tray (id, number, customer_id, opened_at, opened_by, changed_at, closed_at, keep_until)
                    VALUES ($n, $n + 40, $customer, '$taken', 'bench', '$taken', '$taken', '$until');
                INSERT INTO phone (serial, seen, on_bench, seen_at) VALUES ('A$n', '$seen', 0, '$taken');
                INSERT INTO backup (id, counter, tray_id, customer_id, serial, app, edition, way_in, taken_at, account,
                    conversations, messages, attachments, attachments_absent, attachment_bytes, newest_at, lost,
                    verified_at, erase_asked_at, erased_at)
                    VALUES ('$id', $n, $n, $customer, 'A$n', 'otterpost', 'Otterpost', 'cable', '$taken',
                        '+4477009' || substr('00000' || $n, -5), 3, 9, 0, 0, 1000 * ($n * 37 % 1000), NULL, 0,
                        '$taken', $erased, $erased);
                SQL);
        }
    }
}
